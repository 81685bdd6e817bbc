import { calmDriver } from '../testing/calm-driver'
import type { NumberedEvent } from '@/core/execution'
import type { Step, TestCase } from '@/core/model'
import type { BrowserDriver } from '../driver/port'
import { realPace } from '../driver/port'
import { runAttempt, type Meet, type Meeting } from '.'
import { StopOrder } from './stop-order'
import { someWork } from '../testing/work'

/** What the server does for roles, in memory: who is where, who gave what, who is told to end. */
class Table {
  readonly arrived = new Map<string, Set<string>>()
  readonly values: Record<string, string> = {}
  readonly told = new Map<string, string>()
  private waiting: (() => void)[] = []

  constructor(private readonly roles: readonly string[]) {}

  seat =
    (role: string): Meet =>
    async ({ arrives, gives = {}, needs = [], waitMs = 0 }: Meeting) => {
      const at = arrives && `${arrives.point} ${arrives.visit}`
      if (at) this.arrived.set(at, new Set([...(this.arrived.get(at) ?? []), role]))
      Object.assign(this.values, gives)
      this.wake()
      const answer = () => ({
        missing: [
          ...(at ? this.roles.filter((one) => !this.arrived.get(at)!.has(one)) : []),
          ...needs.filter((name) => !(name in this.values)),
        ],
        values: { ...this.values },
        ...(this.told.has(role) && { over: this.told.get(role)! }),
      })
      const until = Date.now() + waitMs
      while (answer().missing.length > 0 && !this.told.has(role) && Date.now() < until)
        await Promise.race([
          new Promise<void>((resolve) => this.waiting.push(resolve)),
          new Promise((resolve) => setTimeout(resolve, until - Date.now()).unref()),
        ])
      return answer()
    }
  tell(role: string, because: string) {
    this.told.set(role, because)
    this.wake()
  }
  private wake = () => this.waiting.splice(0).forEach((go) => go())
}

const driver = (texts: Record<string, string> = {}): BrowserDriver =>
  calmDriver({
    look: async (target) => ({
      count: 1,
      text: texts[target.testId ?? ''] ?? '',
      value: '',
      states: ['visible'],
    }),
  })
const roles = (passenger: Step[], crew: Step[]): TestCase['roles'] => ({
  passenger: { environment: {}, steps: passenger },
  crew: { environment: {}, steps: crew },
})
const meet = (point: string, limitMs?: number): Step => ({
  verb: 'meet',
  point,
  ...(limitMs !== undefined && { limitMs }),
})
const read = (as: string): Step => ({ verb: 'read', of: { testId: as }, as, handoff: true }) as Step
const type = (value: string): Step => ({ verb: 'type', in: { text: 'x' }, value })
const open: Step = { verb: 'open', address: 'app:/' }

/** Plays both roles at the same time. */
async function play(
  given: TestCase['roles'],
  {
    texts = {},
    undo = [],
    table = new Table(['passenger', 'crew']),
    only,
    stop,
  }: { texts?: Record<string, string>; undo?: Step[]; table?: Table; only?: string; stop?: AbortSignal } = {},
) {
  const one = async (role: string) => {
    const work = someWork(
      { attemptId: role, role, applications: { app: 'http://app' }, limitMs: 20_000 },
      { undo, roles: given! },
    )
    const events: NumberedEvent[] = []
    const result = await runAttempt(work, {
      driver: driver(texts),
      pace: realPace(),
      sink: { event: (event) => void events.push(event), evidence: () => {} },
      agent: role,
      signal: stop ?? new AbortController().signal,
      meet: table.seat(role),
    })
    return {
      result,
      events,
      ended: events.flatMap((event) =>
        event.type === 'step-ended' ? [`${event.path} ${event.outcome}`] : [],
      ),
    }
  }
  const [passenger, crew] = await Promise.all([
    only === 'crew' ? undefined : one('passenger'),
    only === 'passenger' ? undefined : one('crew'),
  ])
  return { passenger: passenger!, crew: crew! }
}

test('each role does its own steps, and goes on when both are at the point', async () => {
  const { passenger, crew } = await play(roles([open, meet('boarding-open'), open], [meet('boarding-open')]))
  expect([passenger.result.outcome, crew.result.outcome]).toEqual(['passed', 'passed'])
  expect(passenger.ended).toEqual(['main.0 passed', 'main.1 passed', 'main.2 passed'])
  expect(crew.ended).toEqual(['main.0 passed'])
})
test('a point in a loop is met anew each time', async () => {
  const table = new Table(['passenger', 'crew'])
  const three: Step = { verb: 'repeat', times: 3, steps: [meet('deck')] } as Step
  const { passenger } = await play(roles([three], [three]), { table })
  expect(passenger.result.outcome).toBe('passed')
  expect([...table.arrived.keys()]).toEqual(['deck 1', 'deck 2', 'deck 3'])
})
test('a value goes to the other role as it is read, and whoever needs it waits for it', async () => {
  const { crew } = await play(roles([open, read('reference')], [type('${reference}')]), {
    texts: { reference: 'FS-40121' },
  })
  expect(crew.result).toMatchObject({ outcome: 'passed' })
  expect(crew.ended).toEqual(['main.0 passed'])
})
test('who does not come in time is named', async () => {
  const { passenger } = await play(roles([meet('boarding-open', 60)], []), { only: 'passenger' })
  expect(passenger.result).toMatchObject({
    outcome: 'errored',
    failure: {
      kind: 'time-limit',
      message: expect.stringContaining('crew did not come to “boarding open”') as string,
    },
  })
})
test('what nobody hands over in time is named; what no other role reads is missing at once', async () => {
  const late = await play(roles([read('reference')], [{ ...type('${reference}'), limitMs: 60 }]), {
    only: 'crew',
  })
  expect(late.crew.result.failure).toMatchObject({
    kind: 'time-limit',
    message: expect.stringContaining('“reference” was not handed over') as string,
  })
  const never = await play(roles([], [type('${reference}')]), { only: 'crew' })
  expect(never.crew.result.failure).toMatchObject({ kind: 'data' })
})
test('when the other role did not pass, who waits for it ends with the reason, and undoes', async () => {
  const table = new Table(['passenger', 'crew'])
  const waits = play(roles([], [meet('boarding-open')]), { table, only: 'crew', undo: [open] })
  table.tell('crew', 'passenger: the card is refused')
  const { crew } = await waits
  expect(crew.result).toMatchObject({
    outcome: 'cancelled',
    failure: {
      kind: 'agent',
      message: 'Ended, for another role did not pass: passenger: the card is refused',
    },
  })
  expect(crew.ended).toEqual(['main.0 skipped', 'undo.0 passed'])
})
test('undo steps are done once, when all roles are through', async () => {
  const table = new Table(['passenger', 'crew'])
  const { passenger, crew } = await play(roles([open, open, open], [open]), { undo: [open], table })
  expect([passenger.ended.includes('undo.0 passed'), crew.ended.includes('undo.0 passed')]).toEqual([
    false,
    true,
  ])
  expect(table.arrived.get('the end 1')).toEqual(new Set(['passenger', 'crew']))
})
test('stopped without undo steps: they are left out, and the log says so', async () => {
  const stop = new AbortController()
  stop.abort(new StopOrder(false))
  const { crew } = await play(roles([], [open]), { undo: [open], stop: stop.signal, only: 'crew' })
  expect(crew.result.outcome).toBe('cancelled')
  expect(crew.ended).toEqual([])
  expect(
    crew.events.some((event) => event.type === 'note' && event.text.startsWith('stopped without undo steps')),
  ).toBe(true)
})
