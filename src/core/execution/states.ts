/** What may follow what: the states of runs, case runs and attempts, in one table. The database's statements
 * take their conditions from it. */

/** States of a case run before it has an outcome. */
export const OPEN_STATES = ['waiting', 'claimed', 'running', 'paused'] as const
export type OpenState = (typeof OPEN_STATES)[number]

export type RunState = 'waiting' | 'running' | 'cancelling' | 'ended'
export type CaseRunState = OpenState | 'ended'
/** `assigned`: given to a seat whose agent has not heard of it yet, as the roles of a joint case are. */
export type AttemptState = 'assigned' | 'claimed' | 'running' | 'ended'

type StatesOf = { run: RunState; caseRun: CaseRunState; attempt: AttemptState }
type EventsOf = {
  run: 'begin' | 'pause' | 'cancel' | 'end'
  caseRun: 'claim' | 'begin' | 'pause' | 'resume' | 'end' | 'again' | 'cancel' | 'skip'
  attempt: 'take' | 'begin' | 'end'
}
export type Machine = keyof StatesOf
export type StateOf<M extends Machine> = StatesOf[M]
export type EventOf<M extends Machine> = EventsOf[M]

const TRANSITIONS: { [M in Machine]: Record<StatesOf[M], Partial<Record<EventsOf[M], StatesOf[M]>>> } = {
  run: {
    waiting: { begin: 'running', pause: 'waiting', cancel: 'cancelling', end: 'ended' },
    running: { pause: 'running', cancel: 'cancelling', end: 'ended' },
    cancelling: { end: 'ended' },
    ended: {},
  },
  caseRun: {
    waiting: { claim: 'claimed', cancel: 'ended', skip: 'ended' },
    claimed: { begin: 'running', end: 'ended', again: 'waiting', skip: 'ended' },
    running: { pause: 'paused', end: 'ended', again: 'waiting' },
    paused: { resume: 'running', end: 'ended', again: 'waiting' },
    ended: {}, // no way out: a case run ends exactly once
  },
  attempt: {
    assigned: { take: 'claimed', end: 'ended' },
    claimed: { begin: 'running', end: 'ended' },
    running: { end: 'ended' },
    ended: {},
  },
}

/** @returns the next state, or `undefined` when `event` is not allowed in `state`: the caller answers for
 * that */
export const nextState = <M extends Machine>(
  machine: M,
  state: StateOf<M>,
  event: EventOf<M>,
): StateOf<M> | undefined => TRANSITIONS[machine][state][event]

/** The states in which `event` is allowed: what a statement that carries it out asks for. */
export const statesBefore = <M extends Machine>(machine: M, event: EventOf<M>): StateOf<M>[] =>
  (Object.keys(TRANSITIONS[machine]) as StateOf<M>[]).filter(
    (state) => nextState(machine, state, event) !== undefined,
  )
