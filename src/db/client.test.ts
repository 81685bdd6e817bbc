import { connect } from './client'

test('no pool compiles its statements', async () => {
  const server = process.env.OAK_TEST_DATABASE_URL
  if (!server) throw new Error('This test needs PostgreSQL: run it by ./oak test unit')
  const { pool, fastPath, close } = connect(server, 1)
  for (const one of [pool, fastPath]) expect((await one.query('show jit')).rows).toEqual([{ jit: 'off' }])
  await close()
})
