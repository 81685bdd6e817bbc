import { childEnv } from './child-env'

test('what any program needs is passed on, and nothing of ours', () => {
  const from = {
    PATH: '/bin',
    LC_ALL: 'C.UTF-8',
    DATABASE_URL: 'postgres://x',
    OAK_SECRET: 's',
    OAK_TOKEN: 't',
    OAK_AGENT_TOKEN: 't',
    PGPASSWORD: 'p',
    FERRY_READER_PASSWORD: 'p',
    OAK_AGENT_PROCESS: '7',
  } as unknown as NodeJS.ProcessEnv
  const expected = { PATH: '/bin', LC_ALL: 'C.UTF-8', OAK_AGENT_PROCESS: '7', DISPLAY: ':1' }
  expect(childEnv({ DISPLAY: ':1' }, from)).toEqual(expected)
})
