/** Hands on who is signed in, and goes on as them. */
import {
  describeSignedIn,
  isSignedIn,
  readSignedIn,
  secretsOfSignedIn,
  STATE_CHARS,
  writeSignedIn,
  type StepOf,
} from '@/core/model'
import type { Work } from '@/core/execution'
import { StepFault } from './fault'
import { limitOf, OPEN_LIMIT_MS, type Done, type StepParts } from './parts'

/** @throws {StepFault} data: it is too much */
export async function keepSignedIn({ driver, handoffs }: StepParts, name: string): Promise<Done> {
  const state = await driver.identity.keep()
  const value = writeSignedIn(state)
  if (value.length > STATE_CHARS)
    throw new StepFault({
      kind: 'data',
      message:
        `this site keeps ${value.length.toLocaleString('en')} characters in the browser; at most ` +
        `${STATE_CHARS.toLocaleString('en')} are handed on`,
    })
  handoffs[name] = value
  return { note: describeSignedIn(state) }
}

/** @throws {StepFault} data: nobody handed it on; page: where it came from is not there */
export async function signIn(parts: StepParts, step: StepOf<'signed-in'>): Promise<Done> {
  const given = parts.handoffs[step.as] ?? parts.work.handoffs[step.as]
  const state = given === undefined ? undefined : readSignedIn(given)
  if (!state)
    throw new StepFault({
      kind: 'data',
      message:
        given === undefined
          ? `“${step.as}” was not handed on`
          : `“${step.as}” is a value, not somebody who is signed in`,
    })
  const addresses = Object.values(parts.work.applications)
  if (!addresses.some((address) => new URL(address).origin === state.origin))
    throw new StepFault({
      kind: 'data',
      message: `“${step.as}” is signed in to ${state.origin}, which is none of the applications`,
    })
  await parts.driver.identity.take(state, limitOf(parts, step, OPEN_LIMIT_MS))
  return { note: describeSignedIn(state) }
}

/** Handoffs that steps may refer to: who is signed in is nothing to read. */
export const valuesOf = ({ handoffs }: Pick<Work, 'handoffs'>): Record<string, string> =>
  Object.fromEntries(Object.entries(handoffs).filter(([, value]) => !isSignedIn(value)))

/** What nobody may read of those who are signed in. */
export const secretsOfHandoffs = ({ handoffs }: Pick<Work, 'handoffs'>): string[] =>
  Object.values(handoffs).flatMap((value) => {
    const state = readSignedIn(value)
    return state ? secretsOfSignedIn(state) : []
  })
