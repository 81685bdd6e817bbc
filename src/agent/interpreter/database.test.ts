import pg from 'pg'
import { readRows } from './database'

/** A role as an administrator is told to make one: it may connect and read, and nothing else. */
const own = () => process.env.OAK_TEST_DATABASE_URL!
const asReader = () => Object.assign(new URL(own()), { username: 'oak_asks_only', password: 'low-tide' }).href

beforeAll(async () => {
  const client = new pg.Client({ connectionString: own() })
  await client.connect()
  await client.query(
    `do $$ begin create role oak_asks_only login password 'low-tide'; exception when ` +
      'duplicate_object then null; end $$',
  )
  await client.end()
})

test('a role that may only read is answered', async () => {
  expect(await readRows(asReader(), 'select $1::int + 1 as next', ['41'], 10_000)).toEqual({
    rows: [{ next: 42 }],
    columns: ['next'],
  })
})

test.each([
  'create temp table t (x int)',
  'select 1; select 2',
  'set default_transaction_read_only = off',
  'do $$ begin end $$',
])('“%s” is not asked, or refused', (sql) =>
  expect(readRows(asReader(), sql, [], 10_000)).rejects.toMatchObject({ failure: { kind: 'data' } }),
)

test('the session only reads, whatever the role may do', async () => {
  const { rows } = await readRows(asReader(), 'show transaction_read_only', [], 10_000).catch(async () =>
    readRows(
      asReader(),
      `select current_setting('transaction_read_only') as transaction_read_only`,
      [],
      10_000,
    ),
  )
  expect(rows).toEqual([{ transaction_read_only: 'on' }])
})
