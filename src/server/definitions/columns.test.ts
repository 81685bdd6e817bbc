import { simpleCase, testContext, type TestContext } from '../testing/context'
import { addColumn, loadLibrary, saveDefinition } from '.'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
})
afterAll(() => ctx.end())

const keep = (key: string, source: string) => saveDefinition(ctx, 'case', key, { source, basedOn: 0 }, 'Wren')
const tableOf = async (key: string) => (await loadLibrary(ctx)).table(key)

test('a case without a table gets its first, with one row', async () => {
  await keep('alone', simpleCase('alone'))
  expect(await addColumn(ctx, 'alone', { name: 'lead', value: 'Isla, "the first"' }, 'Wren')).toEqual({
    table: 'alone.csv',
  })
  expect(await tableOf('alone.csv')).toMatchObject({
    columns: ['lead'],
    rows: [{ lead: 'Isla, "the first"' }],
  })
})

test('a table gets one more, with the value in each row; once', async () => {
  await saveDefinition(
    ctx,
    'data',
    'ports.csv',
    { source: 'from,to\nSkerrow,Tolva\nTolva,Skerrow\n', basedOn: 0 },
    'Wren',
  )
  await keep('with-rows', `${simpleCase('with-rows')}data: ports.csv\n`)
  const add = () => addColumn(ctx, 'with-rows', { name: 'lead', value: 'Isla' }, 'Wren')
  expect(await add()).toEqual({ table: 'ports.csv' })
  expect((await tableOf('ports.csv'))!.rows).toEqual([
    { from: 'Skerrow', to: 'Tolva', lead: 'Isla' },
    { from: 'Tolva', to: 'Skerrow', lead: 'Isla' },
  ])
  await expect(add()).rejects.toMatchObject({ code: 'COLUMN_TAKEN' })
})

test('no case, no column', async () =>
  expect(addColumn(ctx, 'nobody', { name: 'lead', value: '' }, 'Wren')).rejects.toMatchObject({
    code: 'NOT_FOUND',
  }))
