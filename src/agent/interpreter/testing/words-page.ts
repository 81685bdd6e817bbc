/** A page of words and a case on it, to try recovery rules without a browser. */
import { outlineOf, type NumberedEvent, type WorkRule } from '@/core/execution'
import type { Routine, Step, TestCase } from '@/core/model'
import { DriverFault, virtualPace, type BrowserDriver } from '../../driver/port'
import { runAttempt } from '..'
import { calmDriver } from '../../testing/calm-driver'
import { someWork } from '../../testing/work'

/** A page of words: `there` is what can be pressed; pressing one may bring others or take them away. */
function pageOf(there: Set<string>, effects: Record<string, () => void>, done: string[]): BrowserDriver {
  const click = async (name: string) => {
    done.push(name)
    if (!there.has(name))
      throw new DriverFault(
        there.has('storm') ? 'dialog' : 'target',
        there.has('storm') ? 'a dialog “Storm notice” is open over the page' : `${name} is not on the page`,
      )
    effects[name]?.()
    return { way: 'text' as const }
  }
  return calmDriver({
    open: async (url) => void done.push(`open ${url}`),
    click: (target) => click(target.text!),
    look: async (target) =>
      there.has(target.text!)
        ? { count: 1, text: target.text!, value: '', states: ['visible'], found: { way: 'text' } }
        : { count: 0, text: '', value: '', states: ['hidden'] },
    url: async () => 'http://app/',
  })
}

export const click = (text: string, more: object = {}): Step => ({ verb: 'click', on: { text }, ...more })
export const check = (text: string): Step => ({
  verb: 'check',
  of: { text },
  subject: 'state',
  state: 'visible',
  soft: false,
  limitMs: 100,
})
export const rule = (id: string, more: Partial<WorkRule> = {}): WorkRule => ({
  id: `p/${id}`,
  policy: 'p',
  from: 'the workspace',
  when: {},
  do: [],
  resume: 'step',
  most: 3,
  off: false,
  ...more,
})
export const storm = rule('storm', {
  when: { kinds: ['dialog'], message: 'Storm' },
  do: [click('Understood')],
})

export async function attempt(
  steps: Step[],
  rules: WorkRule[],
  {
    there = ['Go'],
    effects = () => ({}),
    recovery = {},
    testCase = {},
    routines = [],
  }: {
    there?: string[]
    effects?: (there: Set<string>) => Record<string, () => void>
    recovery?: object
    testCase?: Partial<TestCase>
    routines?: Routine[]
  } = {},
) {
  const [on, done, events] = [new Set(there), [] as string[], [] as NumberedEvent[]]
  const work = someWork(
    {
      routines,
      applications: { desk: 'http://app' },
      environment: { ...someWork().environment, browser: 'Firefox' },
      recovery: { rules, history: [], usedMs: 0, usedInRun: {}, ...recovery },
    },
    { steps, ...testCase },
  )
  const result = await runAttempt(work, {
    driver: pageOf(on, effects(on), done),
    pace: virtualPace(),
    sink: { event: (event) => void events.push(event), evidence: () => {} },
    agent: 'one',
    signal: new AbortController().signal,
  })
  const lines = outlineOf(work.case, routines, events)
  const uses = events.flatMap((event) =>
    event.type === 'recovery-ended' ? [`${event.rule} ${event.result}`] : [],
  )
  return {
    result,
    done,
    events,
    uses,
    lines: lines.map(({ path, mark }) => `${path} ${mark}`),
    failing: lines.filter(({ failing }) => failing).map(({ path }) => path),
  }
}
