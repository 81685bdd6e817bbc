/** What carrying out a case may touch: the routines its steps use, and the secrets, databases,
 * pictures and applications all of them name. */
import type { RecoveryRule, Routine, Step, TestCase } from './types'
import { referencesIn } from './values'
import { addressOf, targetsOf } from './verbs'
import { stepsOfCase, walkSteps } from './walk'

export type Reach = {
  routines: Routine[]
  secrets: string[]
  databases: string[]
  /** That its targets are looked for by. */
  pictures: string[]
  /** Names of screens its checks compare. */
  screens: string[]
  /** `undefined`: any of them, as an address is put together only while it runs. */
  applications: string[] | undefined
}

const SECRET = 'secret.'

/** Names of the secrets that a value refers to. */
export const secretsIn = (value: unknown): string[] =>
  referencesIn(value).flatMap((name) => (name.startsWith(SECRET) ? [name.slice(SECRET.length)] : []))

/** @param rules recovery rules that may be used while it goes on
 * @param routines all there are, by key */
export function reachOf(
  testCase: TestCase,
  rules: readonly Pick<RecoveryRule, 'do'>[],
  routines: Readonly<Record<string, Routine>>,
): Reach {
  const reached = new Map<string, Routine>()
  const databases = new Set<string>()
  const pictures = new Set<string>()
  const screens = new Set<string>()
  const applications = new Set<string>()
  let anyApplication = false
  const go = (address: string): void => {
    const [application = ''] = address.split(':', 1)
    if (application.includes('${')) anyApplication = true
    else applications.add(application)
  }
  const follow = (key: string): void => {
    if (reached.has(key) || !Object.hasOwn(routines, key)) return
    const routine = routines[key]!
    reached.set(key, routine)
    visit(stepsOfCase(routine))
  }
  const visit = (steps: Iterable<Step>): void => {
    for (const step of steps) {
      if (step.verb === 'use') follow(step.routine)
      if (step.verb === 'query') databases.add(step.database)
      for (const { picture } of targetsOf(step)) if (picture !== undefined) pictures.add(picture)
      if (step.verb === 'check' && step.screen !== undefined) screens.add(step.screen)
      const address = addressOf(step)
      if (address !== undefined) go(address)
    }
  }
  if (testCase.entry !== undefined) follow(testCase.entry)
  visit(stepsOfCase(testCase))
  for (const rule of rules) visit(walkSteps(rule.do))
  const found = [...reached.values()]
  const secrets = [...new Set(secretsIn([testCase, rules.map((rule) => rule.do), found]))].sort()
  return {
    routines: found,
    secrets,
    databases: [...databases].sort(),
    pictures: [...pictures].sort(),
    screens: [...screens].sort(),
    applications: anyApplication ? undefined : [...applications].sort(),
  }
}
