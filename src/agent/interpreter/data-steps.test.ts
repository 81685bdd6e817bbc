import type { Step, StepOf } from '@/core/model'
import { attempt, click, seen, withApi } from './testing/scripted'

withApi()

describe('queries', () => {
  const url = process.env.OAK_TEST_DATABASE_URL!
  const query = (sql: string, extra: Partial<StepOf<'query'>> = {}): Step => ({
    verb: 'query',
    database: 'manifest',
    sql,
    values: [],
    read: {},
    ...extra,
  })
  test.each<[string, Step, object | undefined]>([
    [
      'a value',
      query('select $1::text as state', {
        values: ['${who}'],
        expect: { rows: 1, value: { equals: 'Isla' } },
      }),
      undefined,
    ],
    [
      'columns',
      query("select 1 as n, 'booked' as state", { expect: { columns: { state: { equals: 'booked' } } } }),
      undefined,
    ],
    [
      'another number of rows',
      query('select generate_series(1, 3)', { expect: { rows: { atMost: 2 } } }),
      { kind: 'check', actual: '3' },
    ],
    [
      'another value',
      query("select 'boarded'", { expect: { value: { equals: 'booked' } } }),
      { kind: 'check', expected: 'booked', actual: 'boarded' },
    ],
    [
      'no rows',
      query('select 1 where false', { expect: { value: { equals: '1' } } }),
      { kind: 'check', actual: 'no rows' },
    ],
    [
      'writing',
      query('create table oak_no (a int)'),
      { kind: 'data', message: expect.stringMatching(/is not asked: it begins with “create”/) as string },
    ],
    [
      'a second statement',
      query('commit; create table oak_no (a int)'),
      { kind: 'data', message: expect.stringContaining('several statements') as string },
    ],
    [
      'writing inside of reading',
      query("with w as (insert into pg_description select 0, 0, 0, 'x' returning 1) select * from w"),
      { kind: 'data', message: expect.stringMatching(/would write|refused/) as string },
    ],
    [
      'a mistake',
      query('select nothing from nowhere'),
      { kind: 'data', message: expect.stringContaining('nowhere') as string },
    ],
    [
      'a value that is no SQL',
      query('select $1::text', {
        values: ["'; drop table x; --"],
        expect: { value: { equals: "'; drop table x; --" } },
      }),
      undefined,
    ],
    ['too slow', query('select pg_sleep(5)', { limitMs: 150 }), { kind: 'time-limit' }],
    [
      'a database that is not there',
      { ...query('select 1'), database: 'gone' } as Step,
      { kind: 'data', message: 'there is no database “gone”' },
    ],
  ])('%s', async (_, step, failure) => {
    const { result } = await attempt(
      [step],
      {},
      { work: { databases: { manifest: url }, parameters: { who: 'Isla' } } },
    )
    if (failure) expect(result.failure).toMatchObject(failure)
    else expect(result).toMatchObject({ outcome: 'passed' })
  })
  test('reads columns for later steps; a place that answers nothing is a fault of the page', async () => {
    expect(
      (
        await attempt(
          [query("select 'FS-2' as ref", { read: { ref: 'ref' } }), click('${ref}')],
          { 'FS-2': seen('') },
          { work: { databases: { manifest: url } } },
        )
      ).done,
    ).toContain('click FS-2')
    expect(
      (
        await attempt(
          [query('select 1')],
          {},
          { work: { databases: { manifest: 'postgres://x:y@127.0.0.1:1/z' } } },
        )
      ).result.failure,
    ).toMatchObject({ kind: 'page' })
  })
})

describe('calls', () => {
  const call = (extra: object): Step => ({
    verb: 'call',
    method: 'GET',
    url: 'api:/x',
    read: {},
    handoff: false,
    ...extra,
  })
  test.each<[string, Step, object | undefined]>([
    [
      'any of the list may hold',
      call({ expect: { status: 200, json: { '$.list[*].ref': { equals: 'FS-2' } } } }),
      undefined,
    ],
    [
      'none holds',
      call({ expect: { json: { '$.list[*].ref': { equals: 'FS-9' } } } }),
      { kind: 'check', expected: 'FS-9', actual: 'FS-1, FS-2' },
    ],
    [
      'nothing at the path',
      call({ expect: { json: { '$.gone': { equals: '1' } } } }),
      { kind: 'check', actual: 'nothing there' },
    ],
    [
      'another status',
      call({ url: 'api:/missing', expect: { status: 200 } }),
      { kind: 'check', expected: '200', actual: '404' },
    ],
    [
      'success is expected unless said otherwise',
      call({ url: 'api:/missing' }),
      { kind: 'check', expected: 'below 400' },
    ],
    ['no answer in time', call({ url: 'api:/slow', limitMs: 120 }), { kind: 'time-limit' }],
    ['a path that is none', call({ expect: { json: { 'list[': { equals: '1' } } } }), { kind: 'data' }],
  ])('%s', async (_, step, failure) => {
    const { result } = await attempt([step])
    if (failure) expect(result.failure).toMatchObject(failure)
    else expect(result.outcome).toBe('passed')
  })
  test('reads values for later steps', async () =>
    expect(
      (await attempt([call({ read: { ref: '$.list[1].ref' } }), click('${ref}')], { 'FS-2': seen('') })).done,
    ).toContain('click FS-2'))
})
