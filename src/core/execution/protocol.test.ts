import { readFileSync } from 'node:fs'
import { AGENT_PROTOCOL, OWN_VERSION, PROTOCOLS_SERVED, protocolRefusal } from '.'

test('the version is that of the package, and own agents are always served', () => {
  expect(OWN_VERSION).toBe((JSON.parse(readFileSync('package.json', 'utf8')) as { version: string }).version)
  expect(PROTOCOLS_SERVED).toContain(AGENT_PROTOCOL)
})
test.each([
  { protocol: 2, says: undefined, why: 'one of several that are understood' },
  { protocol: 3, says: undefined, why: 'the newest' },
  { protocol: 4, says: /speaks 4: the agent is newer. Upgrade the server first/, why: 'newer than any' },
  { protocol: 1, says: /speaks 1: the agent is too old/, why: 'understood no more' },
])('a server of 2 and 3, an agent of $protocol: $why', ({ protocol, says }) => {
  const said = protocolRefusal(protocol, [2, 3])
  if (says) expect(said).toMatch(says)
  else expect(said).toBeUndefined()
})
