/** The words of the product as types. File forms (what a person writes) are turned into these by
 * `parse.ts`. */
import type { NetworkChange } from './network-change'
import type { SIGNED_IN_DOINGS } from './signed-in-state'
import type { TextMatch } from './text-match'

/** How to point at something on a page. Several ways may be given; they are tried in the order of
 * `TARGET_WAYS`. */
export type Target = {
  testId?: string
  role?: string
  /** Accessible name, only together with `role`. */
  name?: string
  label?: string
  placeholder?: string
  text?: string
  css?: string
  /** Name of a picture to find on the screen. */
  picture?: string
  /** Text to find on the screen, as it is seen there. */
  words?: string
  /** How `name`, `label`, `placeholder` and `text` are compared; `whole` unless said. */
  match?: TextMatch
  /** Only what stands in this one. */
  within?: Target
  /** Only what stands on one line with this one, and of that the nearest. */
  beside?: Target
  /** Only what stands below this one, and of that the nearest. */
  under?: Target
  /** Of those that are left, which: 1 the first in the order of the page, -1 the last. */
  number?: number
  /** Where eyes saw it, in CSS pixels of the view; never in a file. */
  spot?: Spot
}
export type Spot = {
  x: number
  y: number
  box: { x: number; y: number; w: number; h: number }
  way: 'picture' | 'words'
  /** 0 to 1. */
  sure: number
  text: string
}
export const TARGET_WAYS = ['testId', 'role', 'label', 'placeholder', 'text', 'css'] as const
/** Ways that need eyes on the screen, in the order in which they are tried. */
export const SCREEN_WAYS = ['picture', 'words'] as const
/** A way that is asked of the page itself; `spot`: what is at a point. */
export type WayInPage = (typeof TARGET_WAYS)[number] | 'spot'
/** Those of a target, in the order in which they are tried. */
export const waysInPage = (target: Target): WayInPage[] =>
  target.spot ? ['spot'] : TARGET_WAYS.filter((way) => target[way] !== undefined)
/** Other elements that a target is told by. */
export const TARGET_PLACES = ['within', 'beside', 'under'] as const

/** How a click is done; a plain one with the left button unless said. */
export type Clicking = {
  /** 2: a double click. */
  times?: number
  button?: MouseButton
  /** Keys held meanwhile. */
  with?: HeldKey[]
  /** How long the button stays down. */
  holdMs?: number
}
export const MOUSE_BUTTONS = ['left', 'middle', 'right'] as const
export type MouseButton = (typeof MOUSE_BUTTONS)[number]
export const HELD_KEYS = ['Shift', 'Control', 'Alt', 'Meta'] as const
export type HeldKey = (typeof HELD_KEYS)[number]

/** Which window goes on being worked in. `titled`, `at`: the one whose title, or address, has a text in
 * it. */
export const WINDOW_CHOICES = ['newest', 'first', 'titled', 'at', 'close'] as const
export type WindowChoice = (typeof WINDOW_CHOICES)[number]

/** What a branch or a loop goes by, at that moment. */
export type Condition = { visible: Target } | { hidden: Target } | { value: string; is: Matcher }

/** `waitMs`: each time `until` is given so long to come true. */
type Repeating = { times?: number; whileVisible?: Target; until?: Condition; waitMs?: number }

/** How a file that is no text stands in a step. */
export const FILE_ENCODINGS = ['base64'] as const
/** Characters of a file in a step. */
export const FILE_TEXT_MOST = 400_000
/** `encoding`: how `text` holds a file that is no text; absent: it is its text. */
export type UploadFile = { name: string; text: string; encoding?: (typeof FILE_ENCODINGS)[number] }

export const WAYS_TO_GO = ['back', 'forward', 'reload'] as const
export type WayToGo = (typeof WAYS_TO_GO)[number]

export type Matcher = {
  equals?: string | number
  not?: string | number
  contains?: string
  startsWith?: string
  /** A regular expression in RE2 syntax, found anywhere. */
  matches?: string
  near?: { value: number | string; within: number | string }
  between?: [number | string, number | string]
  atLeast?: number | string
  atMost?: number | string
  empty?: boolean
  oneOf?: (string | number)[]
}

export const ELEMENT_STATES = [
  'visible',
  'hidden',
  'enabled',
  'disabled',
  'checked',
  'unchecked',
  'focused',
] as const
export type ElementState = (typeof ELEMENT_STATES)[number]

export const CAPTURES = ['always', 'on-failure', 'never'] as const
/** Kinds of evidence that are kept or not, each for as long as is said. */
export const EVIDENCE_KINDS = ['screens', 'video', 'console', 'network'] as const
export type EvidenceKind = (typeof EVIDENCE_KINDS)[number]
export type Capture = (typeof CAPTURES)[number]

/** What any step may carry besides its verb. */
export type StepFields = {
  id?: string
  off?: boolean
  tag?: string
  limitMs?: number
  /** When its screens are kept; `always` unless said. */
  capture?: Capture
  because?: string
  /** Line in the case file, 1-based; absent in documents made elsewhere. */
  line?: number
}

export type CallExpect = { status?: number; json?: Record<string, Matcher> }
/** `rows`: how many; `value`: the first cell of the first row; `columns`: cells of the first row by column
 * name. */
export type QueryExpect = { rows?: number | Matcher; value?: Matcher; columns?: Record<string, Matcher> }
export const SUBJECTS = [
  'text',
  'value',
  'attribute',
  'state',
  'count',
  'url',
  'title',
  'download',
  'dialog',
  'screen',
] as const
export type Subject = (typeof SUBJECTS)[number]
/** Subjects of the whole page, not of one element on it. */
export const PAGE_SUBJECTS: readonly Subject[] = ['url', 'title', 'download', 'dialog', 'screen']

export type Step = StepFields &
  (
    | { verb: 'open'; address: string }
    | { verb: 'go'; to: WayToGo }
    | ({ verb: 'click'; on: Target } & Clicking)
    | { verb: 'type'; in: Target; value: string }
    | { verb: 'choose'; in: Target; value: string; also?: string[] }
    | { verb: 'press'; key: string; on?: Target }
    | { verb: 'hover'; on: Target }
    | { verb: 'drag'; from: Target; to: Target }
    | ({ verb: 'upload'; in: Target; more?: UploadFile[] } & UploadFile)
    | { verb: 'scroll'; to?: Target; in?: Target; by?: number; until?: Target }
    | { verb: 'window'; to: WindowChoice; text?: string }
    | { verb: 'wait'; for?: Target; state: ElementState; timeMs?: number }
    | { verb: 'read'; of: Target; as: string; pick?: string; handoff: boolean }
    | {
        verb: 'check'
        of?: Target
        subject: Subject
        state?: ElementState
        attribute?: string
        screen?: string
        ignore?: Target[]
        matcher?: Matcher
        soft: boolean
      }
    | {
        verb: 'call'
        method: string
        url: string
        headers?: Record<string, string>
        body?: unknown
        expect?: CallExpect
        read: Record<string, string>
        handoff: boolean
      }
    | {
        verb: 'query'
        database: string
        sql: string
        values: string[]
        expect?: QueryExpect
        read: Record<string, string>
      }
    | { verb: 'use'; routine: string; with: Record<string, string> }
    | { verb: 'block'; title: string; steps: Step[] }
    | { verb: 'if'; condition: Condition; steps: Step[]; otherwise: Step[] }
    | ({ verb: 'repeat'; steps: Step[] } & Repeating)
    | { verb: 'meet'; point: string }
    | { verb: 'dialog'; answer: 'accept' | 'dismiss'; text?: string }
    | ({ verb: 'network' } & NetworkChange)
    | { verb: 'signed-in'; does: (typeof SIGNED_IN_DOINGS)[number]; as: string }
    | { verb: 'note'; text: string }
    | { verb: 'do'; words: string; expected?: string }
  )
export type Verb = Step['verb']
export type StepOf<V extends Verb> = Extract<Step, { verb: V }>

export const FAILURE_KINDS = [
  'check',
  'target',
  'dialog',
  'page',
  'script',
  'time-limit',
  'agent',
  'data',
] as const
export type FailureKind = (typeof FAILURE_KINDS)[number]
export const RESUMES = ['step', 'check', 'case', 'skip-case', 'stop-run'] as const
/** Where a case goes on after a rule's steps: the failed step again, the next check, the case from its
 * beginning, not at all, or nothing of the run. */
export type Resume = (typeof RESUMES)[number]
/** Conditions that all have to hold; of a list, one. What is absent holds. `message`: a regular expression in
 * RE2 syntax, found anywhere; `step`: the tag of the step. */
export type RuleCondition = {
  kinds?: FailureKind[]
  message?: string
  step?: string
  environment?: Record<string, string | string[]>
  application?: string | string[]
}
/** `most`: uses in a case run, those of earlier tries included. `waitMs` before the steps, times `grow` for
 * each use before. */
export type RecoveryRule = {
  id: string
  when: RuleCondition
  do: Step[]
  resume: Resume
  most: number
  mostInRun?: number
  waitMs?: number
  grow?: number
  off: boolean
}
/** `budgetMs`: time that recovering may take in a case run. */
export type RecoveryPolicy = {
  kind: 'policy'
  key: string
  title: string
  rules: RecoveryRule[]
  budgetMs?: number
}

export const PRIORITIES = { low: -1, normal: 0, high: 1, critical: 2 } as const
export type Priority = keyof typeof PRIORITIES

/** One part of a joint case, on an agent of its own. */
export type Role = { environment: Record<string, string>; steps: Step[] }

export type TestCase = {
  kind: 'case'
  key: string
  title: string
  tags: string[]
  priority: Priority
  requires: string[]
  /** Key of the routine that brings the browser to the state the case starts from, and checks that it is
   * there. */
  entry?: string
  parameters: Record<string, string>
  /** Name of a table (CSV or JSON); one iteration a row. */
  data?: string
  /** Names held alone while it runs. */
  uses: string[]
  /** Handoffs it takes: values that an earlier case of the same run read with `handoff: true`. */
  needs: string[]
  limitMs?: number
  /** Key of the recovery policy that is tried first. */
  policy?: string
  steps: Step[]
  undo: Step[]
  /** Present in joint cases, which have no steps of their own. */
  roles?: Record<string, Role>
}

export type Routine = {
  kind: 'routine'
  key: string
  title: string
  parameters: Record<string, string>
  steps: Step[]
  /** Undoes what its steps did; put on the undo stack when the routine is used. */
  undo: Step[]
}

export const ON_FAILURE = ['go-on', 'skip-children', 'stop'] as const
export type OnFailure = (typeof ON_FAILURE)[number]

export type SuiteEntry = {
  case?: string
  suite?: string
  group?: string
  name?: string
  off: boolean
  repeat: number
  limitMs?: number
  with: Record<string, string>
  /** Another table than the case's own. */
  data?: string
  /** Names (or keys) of entries of this suite that have to end before it starts. */
  after: string[]
  onFailure?: OnFailure
  entries: SuiteEntry[]
}

/** A suite has entries, or a rule that chooses its cases. */
export type Suite = {
  kind: 'suite'
  key: string
  title: string
  entries: SuiteEntry[]
  rule?: string
  /** Key of a recovery policy, for all in it. */ policy?: string
}

/** A table of text: a case that has one runs once a row. */
export type Row = Record<string, string>
/** Key and title are the file's name. */
export type DataSet = { kind: 'data'; key: string; title: string; columns: string[]; rows: Row[] }

/** Something that a definition refers to and Settings does not have. */
export type Missing = { kind: 'application' | 'database' | 'secret' | 'picture' | 'environment'; key: string }
/** Something wrong in a file, with its place. Lines and columns count from 1. `missing`: what would have to
 * be set up. */
export type FileProblem = {
  file: string
  line: number
  column: number
  field: string
  message: string
  missing?: Missing
}
