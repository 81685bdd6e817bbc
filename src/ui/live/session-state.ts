/** What a page knows of a live session, message by message. */
import type { AttemptOutcome, Failure } from '@/core/execution'
import type {
  AskedDialog,
  ElementFacts,
  Held,
  LiveList,
  LiveNotice,
  LiveWord,
  RecordedStep,
} from '@/core/live'

export type StepMark = { mark: 'running' | AttemptOutcome; ms?: number; failure?: Failure }
export type SessionState = {
  /** The line of this page to the server. */
  connected: boolean
  agentHere: boolean
  /** It will not come back. */
  over: boolean
  browser: Extract<LiveWord, { say: 'state' }> | undefined
  recorded: readonly RecordedStep[]
  /** How each step ended when it was carried out last, by its id. */
  marks: Readonly<Record<string, StepMark>>
  list: LiveList | null
  picked: ElementFacts | null | undefined
  located: Extract<LiveWord, { say: 'located' }> | undefined
  dialog: Extract<LiveWord, { say: 'dialog' }> | undefined
  /** A dialog of the browser waits for an answer. */
  asks: AskedDialog | null
  /** A step waits for what a person says of it. */
  judge: Extract<LiveWord, { say: 'judge' }>['asked']
  /** Steps are held, and go on when a person says so. */
  held: Held | null
  /** The step that playing ended before, and how many such ends there were. */
  stopped: { id: string; no: number } | undefined
  /** The page asks for files. */
  files: Extract<LiveWord, { say: 'files' }> | undefined
  problem: string | undefined
  you: number
  driver: number | null
  people: Extract<LiveNotice, { say: 'people' }>['people']
  /** Who asks to drive. */
  asking: number | undefined
  cursors: Readonly<Record<number, { x: number; y: number }>>
}

export const AT_FIRST: SessionState = {
  connected: false,
  agentHere: false,
  over: false,
  browser: undefined,
  recorded: [],
  marks: {},
  list: null,
  picked: undefined,
  located: undefined,
  dialog: undefined,
  asks: null,
  judge: null,
  held: null,
  stopped: undefined,
  files: undefined,
  problem: undefined,
  you: 0,
  driver: null,
  people: [],
  asking: undefined,
  cursors: {},
}

export type SessionEvent =
  | LiveWord
  | LiveNotice
  | { say: 'connected'; is: boolean }
  /** A person has read it, or looks at something else. */
  | { say: 'seen'; what: 'problem' | 'dialog' | 'files' | 'picked' | 'asking' | 'list' }

export function reduceSession(state: SessionState, event: SessionEvent): SessionState {
  switch (event.say) {
    case 'connected':
      return {
        ...state,
        connected: event.is,
        ...(!event.is && { agentHere: false, list: null, asks: null, judge: null, held: null }),
      }
    case 'agent':
      return { ...state, agentHere: event.here }
    case 'state':
      return { ...state, browser: event }
    case 'recorded':
      return { ...state, recorded: event.steps }
    case 'step': {
      const { id, mark, ms, failure } = event
      const one: StepMark = { mark, ...(ms !== undefined && { ms }), ...(failure && { failure }) }
      return { ...state, marks: { ...state.marks, [id]: one } }
    }
    case 'list':
      return { ...state, list: event.list }
    case 'picked':
      return { ...state, picked: event.facts }
    case 'located':
      return { ...state, located: event }
    case 'asks':
      return { ...state, asks: event.dialog }
    case 'judge':
      return { ...state, judge: event.asked }
    case 'held':
      return { ...state, held: event.held }
    case 'stopped':
      return { ...state, stopped: { id: event.id, no: (state.stopped?.no ?? 0) + 1 } }
    case 'file':
      return state // it goes to the person's machine
    case 'dialog':
      return { ...state, dialog: event }
    case 'files':
      return { ...state, files: event }
    case 'problem':
      return { ...state, problem: event.message }
    case 'people':
      return withPeople(state, event)
    case 'asked':
      return { ...state, asking: event.who }
    case 'cursor':
      return { ...state, cursors: { ...state.cursors, [event.who]: { x: event.x, y: event.y } } }
    case 'seen':
      return { ...state, [event.what]: event.what === 'list' ? null : undefined }
    case 'over':
      return { ...state, agentHere: false, over: true }
  }
}

/** Who left has no cursor any more, and asks for nothing. */
function withPeople(
  state: SessionState,
  { you, driver, people }: Extract<LiveNotice, { say: 'people' }>,
): SessionState {
  const isHere = (id: number) => people.some((one) => one.id === id)
  const cursors = Object.entries(state.cursors).filter(([id]) => isHere(Number(id)))
  const asks = state.asking !== undefined && isHere(state.asking) && state.asking !== driver
  return {
    ...state,
    you,
    driver,
    people,
    cursors: Object.fromEntries(cursors),
    asking: asks ? state.asking : undefined,
  }
}

export const isDriving = ({ you, driver }: Pick<SessionState, 'you' | 'driver'>): boolean => you === driver

/** "8:12" */
export function leftWords(ms: number): string {
  const seconds = Math.max(0, Math.ceil(ms / 1000))
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`
}
