/** Random events in a random order, on the tables and the judgement that the server goes by. */
import fc from 'fast-check'
import {
  AGENT_LOSSES_MOST,
  judge,
  nextState,
  randomFrom,
  statesBefore,
  type AttemptState,
  type CaseRunState,
  type EventOf,
  type FailureKind,
  type Outcome,
  type Random,
  type RunState,
  type TryPart,
} from '.'

test('who asks what may happen before an event is told every state of it, and no other', () => {
  expect(statesBefore('caseRun', 'end').sort()).toEqual(['claimed', 'paused', 'running'])
  expect(statesBefore('run', 'cancel')).toEqual(['waiting', 'running'])
  expect(statesBefore('attempt', 'begin')).toEqual(['claimed'])
  for (const event of ['claim', 'begin', 'pause', 'resume', 'end', 'again', 'cancel', 'skip'] as const)
    expect(nextState('caseRun', 'ended', event)).toBeUndefined()
  for (const event of ['begin', 'cancel', 'pause', 'end'] as const)
    expect(nextState('run', 'ended', event)).toBeUndefined()
})

const part = (number: number, outcome: TryPart['outcome'], more: Partial<TryPart> = {}): TryPart => ({
  number,
  role: '',
  outcome,
  ...more,
})
const crew = (number: number, outcome: TryPart['outcome'], more: Partial<TryPart> = {}) =>
  part(number, outcome, { role: 'crew', ...more })
test.each([
  { why: 'one attempt that goes on', parts: [part(1, null)], retries: 1, next: 'wait' },
  { why: 'one that passed', parts: [part(1, 'passed')], retries: 1, next: 'passed' },
  {
    why: 'it passed in its second try',
    parts: [part(1, 'failed', { kind: 'check' }), part(2, 'passed')],
    retries: 1,
    next: 'recovered',
  },
  { why: 'a role is not done yet', parts: [part(1, 'passed'), crew(1, null)], retries: 0, next: 'wait' },
  {
    why: 'a role failed: the other ends with it',
    parts: [part(1, 'failed', { kind: 'check' }), crew(1, null)],
    retries: 0,
    next: 'end-others',
  },
  {
    why: 'it was told already',
    parts: [part(1, 'failed', { kind: 'check' }), crew(1, null, { told: true })],
    retries: 0,
    next: 'wait',
  },
  { why: 'both roles passed', parts: [part(1, 'passed'), crew(1, 'passed')], retries: 0, next: 'passed' },
  {
    why: 'a rule helped one of them',
    parts: [part(1, 'passed'), crew(1, 'passed', { recovered: true })],
    retries: 0,
    next: 'recovered',
  },
  {
    why: 'it ended as the first that did not pass',
    parts: [
      part(1, 'failed', { kind: 'check', endedAt: 5 }),
      crew(1, 'cancelled', { told: true, endedAt: 9 }),
    ],
    retries: 0,
    next: 'failed',
  },
  {
    why: 'who was only told decides nothing, even when it ended first',
    parts: [
      part(1, 'errored', { kind: 'page', endedAt: 9 }),
      crew(1, 'cancelled', { told: true, endedAt: 5 }),
    ],
    retries: 0,
    next: 'errored',
  },
  {
    why: 'all of it is tried again',
    parts: [part(1, 'failed', { kind: 'check', endedAt: 5 }), crew(1, 'cancelled', { told: true })],
    retries: 1,
    next: 'again',
  },
  {
    why: 'a lost agent of one role uses no try',
    parts: [part(1, 'errored', { kind: 'agent' }), crew(1, 'cancelled', { told: true })],
    retries: 0,
    next: 'again',
  },
])('$why', ({ parts, retries, next }) => {
  const verdict = judge(parts, { case: retries })
  expect(verdict.next === 'ended' ? verdict.outcome : verdict.next).toBe(next)
})

/** A run as the server keeps it: every change is asked of the tables first. */
type World = {
  run: RunState
  caseRuns: {
    state: CaseRunState
    outcome?: Outcome
    roles: string[]
    attempts: (TryPart & { state: AttemptState })[]
    ends: number
  }[]
  retries: number
  clock: number
}

const RESULTS: { outcome: 'passed' | 'failed' | 'errored' | 'skipped'; kind?: FailureKind }[] = [
  { outcome: 'passed' },
  { outcome: 'failed', kind: 'check' },
  { outcome: 'errored', kind: 'page' },
  { outcome: 'errored', kind: 'agent' },
  { outcome: 'skipped', kind: 'dialog' },
]

function move(one: World['caseRuns'][number], event: EventOf<'caseRun'>): boolean {
  const next = nextState('caseRun', one.state, event)
  if (next === undefined) return false
  one.state = next
  if (next === 'ended') one.ends++
  return true
}

function concludeAttempt(world: World, one: World['caseRuns'][number]): void {
  const verdict = judge(one.attempts, { case: world.retries })
  if (verdict.next === 'end-others')
    for (const other of one.attempts) if (other.outcome === null) other.told = true
  if (verdict.next === 'wait' || verdict.next === 'end-others') return
  if (world.run === 'cancelling' && verdict.next === 'again') {
    if (move(one, 'end')) one.outcome = 'cancelled'
  } else if (verdict.next === 'again') move(one, 'again')
  else if (move(one, 'end')) one.outcome = verdict.outcome
}

function act(world: World, random: Random): void {
  const any = <T>(list: readonly T[]): T | undefined => list[Math.floor(random() * list.length)]
  world.clock++
  const one = any(world.caseRuns)!
  const attempt = any(one.attempts.filter(({ state }) => state !== 'ended'))
  switch (Math.floor(random() * 6)) {
    case 0:
    case 1:
      if (world.run === 'cancelling' || world.run === 'ended' || !move(one, 'claim')) return
      world.run = nextState('run', world.run, 'begin') ?? world.run
      for (const role of one.roles)
        one.attempts.push({
          number:
            1 +
            Math.max(0, ...one.attempts.filter((other) => other.role === role).map(({ number }) => number)),
          role,
          outcome: null,
          state: role === one.roles[0] ? 'claimed' : 'assigned',
        })
      return
    case 2:
      if (!attempt) return
      attempt.state =
        nextState('attempt', attempt.state, 'take') ??
        nextState('attempt', attempt.state, 'begin') ??
        attempt.state
      if (attempt.state === 'running') move(one, 'begin')
      return
    case 3:
    case 4: {
      if (!attempt) return
      attempt.state = nextState('attempt', attempt.state, 'end')!
      Object.assign(attempt, attempt.told && random() < 0.7 ? { outcome: 'cancelled' } : any(RESULTS), {
        endedAt: world.clock,
      })
      return concludeAttempt(world, one)
    }
    default:
      if (random() < 0.05) {
        const next = nextState('run', world.run, 'cancel')
        if (next) {
          world.run = next
          for (const waiting of world.caseRuns)
            if (waiting.state === 'waiting' && move(waiting, 'cancel')) waiting.outcome = 'cancelled'
        }
      } else move(one, random() < 0.5 ? 'pause' : 'resume')
  }
  if (world.caseRuns.every(({ state }) => state === 'ended'))
    world.run = nextState('run', world.run, 'end') ?? world.run
}

/** Not `expect`: it is asked a million times. */
function must(holds: boolean, what: string): void {
  if (!holds) throw new Error(`it does not hold that ${what}`)
}

function holds({ caseRuns, retries }: World): void {
  for (const { state, outcome, attempts, roles, ends } of caseRuns) {
    must(ends === (state === 'ended' ? 1 : 0), 'a case run ends exactly once')
    must((outcome !== undefined) === (state === 'ended'), 'it has an outcome when it has ended')
    const newest = Math.max(0, ...attempts.map(({ number }) => number))
    must(
      attempts.every((one) => one.state === 'ended' || one.number === newest),
      'tries never overlap',
    )
    must(newest <= retries + AGENT_LOSSES_MOST && attempts.length === newest * roles.length, 'budgets hold')
    must(
      (state !== 'waiting' && state !== 'ended') || attempts.every((one) => one.state === 'ended'),
      'nobody works on what is over',
    )
    const last = attempts.filter(({ number }) => number === newest)
    must(
      (outcome !== 'passed' && outcome !== 'recovered') || last.every((one) => one.outcome === 'passed'),
      'it passed when every role did',
    )
    const counts = attempts.some(
      (one) =>
        one.number < newest &&
        one.kind !== 'agent' &&
        !one.told &&
        one.outcome !== 'passed' &&
        !attempts.some((other) => other.number === one.number && other.kind === 'agent'),
    )
    must(outcome !== 'passed' || !counts, 'it is recovered after a try that counts')
  }
}

test('property: random events never break what must hold, and it always ends', () => {
  fc.assert(
    fc.property(fc.nat(), fc.nat(2), (seed, retries) => {
      const random = randomFrom(seed)
      const world: World = {
        run: 'waiting',
        retries,
        clock: 0,
        caseRuns: [[''], [''], ['passenger', 'crew'], ['desk', 'gate', 'crew']].map((roles) => ({
          state: 'waiting',
          roles,
          attempts: [],
          ends: 0,
        })),
      }
      for (let i = 0; i < 4000 && world.run !== 'ended'; i++) {
        act(world, random)
        holds(world)
      }
      expect(world.run).toBe('ended')
    }),
    { numRuns: 150 },
  )
})
