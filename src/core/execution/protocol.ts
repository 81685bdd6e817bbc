/** Which agents a server works with: docs/agent-protocol.md, “Versions”. */

/** The agent protocol that the agents of this version speak. */
export const AGENT_PROTOCOL = 2
/** Those a server of this version understands; older ones stay as long as there may be agents that speak
 * them. */
export const PROTOCOLS_SERVED: readonly number[] = [2]
/** Of this product, as package.json has it. */
export const OWN_VERSION = '0.1.0'

/** @param protocol as an agent says it speaks
 * @returns why the server cannot work with it, and what to do; `undefined` when it can */
export function protocolRefusal(
  protocol: number,
  served: readonly number[] = PROTOCOLS_SERVED,
): string | undefined {
  if (served.includes(protocol)) return undefined
  const remedy =
    protocol > Math.max(...served)
      ? 'the agent is newer. Upgrade the server first, or start an agent of the server’s version.'
      : 'the agent is too old. Put the server’s version in its place and start it again.'
  return `This server speaks the agent protocol ${served.join(', ')}, the agent speaks ${protocol}: ` + remedy
}
