import readXlsx from 'read-excel-file/node'
import { addDefect } from '@/db/defects'
import { testContext, type TestContext } from '../testing/context'
import { serveDefects } from '.'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  for (const [title, severity] of [
    ['=1+1 | fare', 'high'],
    ['The gate stays shut', 'low'],
  ] as const)
    await addDefect(
      ctx.db,
      {
        title,
        severity,
        steps: 'Open',
        expected: '',
        actual: '',
        environment: 'Wide',
        build: '1.0',
        evidence: [],
        caseKey: 'a',
        runId: 1,
        createdBy: 'Wren',
      },
      ctx.now,
    )
})
afterAll(() => ctx.end())

const file = (address: string) => serveDefects(ctx, new URLSearchParams(address))

test.each([
  ['as=csv', ['The gate stays shut', `"'=1+1 | fare"`], []],
  ['as=csv&severity=high', [`"'=1+1 | fare"`], ['The gate']],
  ['as=csv&words=GATE', ['The gate'], ['fare']],
  ['as=csv&place=mailed', ['number,title'], ['Wren']],
  ['as=md', ['| =1+1 \\| fare |'], []],
  ['as=else', ['number,title'], []],
])('%s', async (address, has, hasNot) => {
  const response = await file(address)
  const text = await response.text()
  for (const part of has) expect(text).toContain(part)
  for (const part of hasNot) expect(text).not.toContain(part)
  expect(response.headers.get('content-disposition')).toContain('attachment')
})

test('as a workbook, in which nothing is a formula', async () => {
  const sheets = await readXlsx(Buffer.from(await (await file('as=xlsx&severity=high')).arrayBuffer()))
  expect(JSON.stringify(sheets)).toContain('"=1+1 | fare"')
})
