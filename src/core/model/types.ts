/** The words of the product as types. File forms (what a person writes) are turned into these by `parse.ts`. */

/** How to point at something on a page. Several ways may be given; they are tried in the order of `TARGET_WAYS`. */
export type Target = {
  testId?: string
  role?: string
  /** Accessible name, only together with `role`. */
  name?: string
  label?: string
  placeholder?: string
  text?: string
  css?: string
}
export const TARGET_WAYS = ['testId', 'role', 'label', 'placeholder', 'text', 'css'] as const

export type Matcher = {
  equals?: string | number
  not?: string | number
  contains?: string
  startsWith?: string
  /** A regular expression (flag `u`), searched anywhere. */
  matches?: string
  near?: { value: number | string; within: number | string }
  between?: [number | string, number | string]
  atLeast?: number | string
  atMost?: number | string
  empty?: boolean
  oneOf?: (string | number)[]
}

export const ELEMENT_STATES = ['visible', 'hidden', 'enabled', 'disabled', 'checked', 'unchecked', 'focused'] as const
export type ElementState = (typeof ELEMENT_STATES)[number]

/** What any step may carry besides its verb. */
export type StepFields = {
  id?: string
  off?: boolean
  tag?: string
  limitMs?: number
  because?: string
  /** Line in the case file, 1-based; absent in documents made elsewhere. */
  line?: number
}

export type CallExpect = { status?: number; json?: Record<string, Matcher> }
export type Subject = 'text' | 'value' | 'state' | 'count' | 'url'

export type Step = StepFields &
  (
    | { verb: 'open'; address: string }
    | { verb: 'click'; on: Target }
    | { verb: 'type'; in: Target; value: string }
    | { verb: 'choose'; in: Target; value: string }
    | { verb: 'press'; key: string; on?: Target }
    | { verb: 'wait'; for?: Target; state: ElementState; timeMs?: number }
    | { verb: 'read'; of: Target; as: string; handoff: boolean }
    | { verb: 'check'; of?: Target; subject: Subject; state?: ElementState; matcher?: Matcher; soft: boolean }
    | { verb: 'call'; method: string; url: string; body?: unknown; expect?: CallExpect; read: Record<string, string> }
    | { verb: 'use'; routine: string; with: Record<string, string> }
    | { verb: 'block'; title: string; steps: Step[] }
    | { verb: 'if'; visible: boolean; target: Target; steps: Step[]; otherwise: Step[] }
    | { verb: 'repeat'; times?: number; whileVisible?: Target; steps: Step[] }
  )
export type Verb = Step['verb']
export type StepOf<V extends Verb> = Extract<Step, { verb: V }>

export const PRIORITIES = { low: -1, normal: 0, high: 1, critical: 2 } as const
export type Priority = keyof typeof PRIORITIES

export type TestCase = {
  kind: 'case'
  key: string
  title: string
  tags: string[]
  priority: Priority
  requires: string[]
  /** Key of the routine that brings the browser to the state the case starts from. */
  entry?: string
  parameters: Record<string, string>
  /** File name of a CSV table beside the case; one iteration a row. */
  data?: string
  uses: string[]
  limitMs?: number
  steps: Step[]
  undo: Step[]
}

export type Routine = {
  kind: 'routine'
  key: string
  title: string
  parameters: Record<string, string>
  steps: Step[]
}

export type SuiteEntry = {
  case?: string
  suite?: string
  group?: string
  name?: string
  off: boolean
  repeat: number
  limitMs?: number
  with: Record<string, string>
  entries: SuiteEntry[]
}

export type Suite = { kind: 'suite'; key: string; title: string; entries: SuiteEntry[] }
export type Definition = TestCase | Routine | Suite
export type DefinitionKind = Definition['kind']

/** A table of text: a case that has one runs once a row. */
export type Row = Record<string, string>

export type Environment = {
  key: string
  title: string
  browser: string
  os: string
  /** CSS pixels. */
  width: number
  height: number
  locale: string
  simulated: boolean
  /** What the browser says it is; absent: what the real engine says. */
  userAgent?: string
}

/** Something wrong in a file, with its place. Lines and columns count from 1. */
export type FileProblem = { file: string; line: number; column: number; field: string; message: string }
