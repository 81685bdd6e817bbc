/** What an environment says of the place and the person, where an engine has no way to be told. */
import type { Conditions, Environment } from '@/core/model'
import { DriverFault } from './port'

const WORDS: Record<keyof Conditions, string> = {
  timeZone: 'a time zone',
  colours: 'light or dark colours',
  location: 'a location',
  camera: 'a camera',
}

/** @param engine as people know it
 * @throws {DriverFault} agent, rather than that the case runs under other conditions than its environment
 * says */
export function requireNone(
  engine: string,
  environment: Environment,
  conditions: readonly (keyof Conditions)[],
): void {
  const wanted = conditions.filter((name) => environment[name] !== undefined && environment[name] !== false)
  if (wanted.length > 0)
    throw new DriverFault(
      'agent',
      `${engine} has no way to be given ${wanted.map((name) => WORDS[name]).join(', ')}, as the ` +
        `environment “${environment.title}” asks for`,
    )
}
