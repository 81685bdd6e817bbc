import { sql } from 'drizzle-orm'
import { connect, type Connection } from './client'

let connection: Connection
beforeAll(() => {
  const server = process.env.OAK_TEST_DATABASE_URL
  if (!server) throw new Error('These tests need PostgreSQL: run them by ./oak test unit')
  connection = connect(server, 1)
})
afterAll(() => connection.close())

test('no pool compiles its statements', async () => {
  for (const one of [connection.pool, connection.fastPath])
    expect((await one.query('show jit')).rows).toEqual([{ jit: 'off' }])
})

test('statements side by side in a transaction go to its connection one after the other', async () => {
  const warnings: string[] = []
  const hear = ({ message }: Error) => void warnings.push(message)
  process.on('warning', hear)
  const given = await connection.db.transaction(async (tx) => {
    const asked = [1, 2, 3, 4].map((n) => tx.execute<{ n: number }>(sql`select ${n}::int as n`))
    return (await Promise.all(asked)).map(({ rows }) => rows[0]!.n)
  })
  process.off('warning', hear)
  expect(given).toEqual([1, 2, 3, 4])
  expect(warnings).toEqual([])
})

test('a statement that fails fails alone', async () => {
  const client = await connection.pool.connect()
  const asked = ['select 1 as n', 'select nothing', 'select 2 as n'].map((text) => client.query(text))
  const ends = (await Promise.allSettled(asked)).map(({ status }) => status)
  client.release()
  expect(ends).toEqual(['fulfilled', 'rejected', 'fulfilled'])
})
