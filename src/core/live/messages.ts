/** What people and the agent of a live session say to each other (docs/live.md). Both travel as JSON, a
 * screen as bytes: `FRAME_HEAD` and a JPEG. */
import type { AttemptOutcome, Box, Failure } from '../execution'
import type { Condition, HeldKey, MouseButton, Step, Target, UploadFile, WayToGo } from '../model'
import type { ElementFacts } from './facts'
import type { RecordedStep } from './recording'

export const MOUSE_DOINGS = ['down', 'up', 'move'] as const
export const KEY_DOINGS = ['down', 'up'] as const

/** What a person has their browser do. Points are in CSS pixels of the page's view. */
export type LiveOrder =
  | {
      do: 'mouse'
      type: (typeof MOUSE_DOINGS)[number]
      x: number
      y: number
      button: MouseButton | 'none'
      /** How many in a row. */
      clicks: number
      with: HeldKey[]
    }
  | { do: 'wheel'; x: number; y: number; dx: number; dy: number }
  | { do: 'key'; type: (typeof KEY_DOINGS)[number]; key: string; code: string; with: HeldKey[] }
  /** Pasted, or composed. */
  | { do: 'text'; text: string }
  /** As a case writes it: "desk:/bookings". */
  | { do: 'open'; address: string }
  | { do: 'go'; to: WayToGo }
  | { do: 'tab'; index: number }
  /** Of the list that is open. */
  | { do: 'choose'; values: string[] }
  /** Texts of files, for the field that asks for some; none: nothing is chosen. */
  | { do: 'files'; files: UploadFile[] }
  /** How the dialog that is open is answered; none is: how the next one will be. */
  | { do: 'dialog'; answer: 'accept' | 'dismiss'; text?: string }
  /** What a person says of the step that waits for one. `by`: their name, which the server knows. */
  | { do: 'verdict'; is: PersonsVerdict; note: string; by?: string }
  /** What somebody noticed at this moment. `wrong`: something to draft a defect from. */
  | { do: 'remark'; text: string; wrong: boolean; by?: string }
  | { do: 'record'; on: boolean }
  /** What was recorded is taken along, or thrown away: all of it. */
  | { do: 'forget' }
  /** What is at a point; with a size, the words that are seen in that part of the screen. */
  | { do: 'pick'; x: number; y: number; w?: number; h?: number }
  /** Where a target is now. */
  | { do: 'locate'; target: Target }
  /** `pauseMs`: between one and the next, for who wants to see it. */
  | { do: 'steps'; steps: { id: string; step: Step; stops?: PlacedStop[] }[]; pauseMs?: number }
  /** No more of the steps that go on. */
  | { do: 'stop' }
  /** Steps that are held go on: to the next stop, or one only. `recover`: by the rule that is there for the
   * failure; else the failure stands. `out`: to what comes after the step that holds them. */
  | { do: 'go-on'; stepping: boolean; recover: boolean; out?: boolean }
  /** Another row of the table of the case. `values`: of that row, which the server knows. */
  | { do: 'row'; index: number; values?: Record<string, string> }
  /** A value that later steps take. */
  | { do: 'set'; name: string; value: string }
  /** A file that was downloaded, for who asks. */
  | { do: 'take'; name: string }
  | { do: 'longer' }
  | { do: 'end'; undo: boolean }
export type LiveDoing = LiveOrder['do']

/** Steps are stopped before one: each time, or from the `from`th on, and only `when` that is so. */
export type Stop = { when?: Condition; from?: number }
/** `at`: of which of the steps within, as a path in the form of the outer one; [] is that itself. "routine"
 * leads to the steps of the routine that a step uses. */
export type PlacedStop = Stop & { at: (string | number)[] }

export type LiveWindow = { title: string; url: string }

/** What the agent says. */
export type LiveWord =
  | {
      say: 'state'
      url: string
      windows: LiveWindow[]
      shown: number
      recording: boolean
      /** Steps go on. */
      working: boolean
      /** Parameters and what was read, by name; of the row with "row." before. Secrets are masked. */
      values: Record<string, string>
      /** Names of files that the page has downloaded. */
      downloads?: string[]
      /** Until the session ends by itself. */
      leftMs: number
      /** Pictures a second that the browser gives, where they are few. */
      rate?: number
    }
  | { say: 'recorded'; steps: RecordedStep[] }
  | { say: 'step'; id: string; mark: 'running' | AttemptOutcome; ms?: number; failure?: Failure }
  | { say: 'picked'; facts: ElementFacts | null }
  | { say: 'located'; count: number; box: Box | null }
  /** A list the browser itself would draw, which is on no picture of the page; `null`: none is open. */
  | { say: 'list'; list: LiveList | null }
  /** A dialog of the browser is open, and waits for an answer; `null`: not any more. */
  | { say: 'asks'; dialog: AskedDialog | null }
  /** A step is for a person, and waits; `null`: not any more. */
  | { say: 'judge'; asked: { words: string; expected?: string } | null }
  /** Steps are held within a step, or before a recovery; `null`: not any more. */
  | { say: 'held'; held: Held | null }
  /** They ended before this one, as a stop says. */
  | { say: 'stopped'; id: string }
  /** How one was answered that nobody was asked about. */
  | { say: 'dialog'; words: string; answer: 'accept' | 'dismiss' }
  /** The page asks for a file, or several. */
  | { say: 'files'; several: boolean }
  /** A part of a file, as base64, from 1 on; only who steers hears it. */
  | { say: 'file'; name: string; part: number; of: number; data: string }
  | { say: 'problem'; message: string }
/** `words`: of the step that comes next. `failure`: what failed, and `rule`: what would put it right. */
export type Held = { words: string; failure?: string; rule?: string }
export const VERDICTS = ['passed', 'failed', 'cannot', 'skipped'] as const
export type PersonsVerdict = (typeof VERDICTS)[number]
export const DIALOG_KINDS = ['alert', 'confirm', 'prompt', 'beforeunload'] as const
/** `kind`: where the browser tells. `suggested`: what stands in its field at first. */
export type AskedDialog = { kind?: (typeof DIALOG_KINDS)[number]; words: string; suggested: string }
export type LiveList = {
  box: Box
  several: boolean
  options: { label: string; value: string; chosen: boolean }[]
}

/** What the server itself says. */
export type LiveNotice =
  | {
      say: 'people'
      you: number
      driver: number | null
      people: { id: number; name: string; mayDrive: boolean }[]
    }
  /** Where somebody else points. */
  | { say: 'cursor'; who: number; x: number; y: number }
  /** Somebody asks to drive. */
  | { say: 'asked'; who: number }
  | { say: 'agent'; here: boolean }
  | { say: 'over'; because: string }

/** What a person says to the server, and not to the browser. */
export type LiveRequest =
  { do: 'drive' } | { do: 'hand-over'; to: number } | { do: 'point'; x: number; y: number }

/** Bytes before the JPEG: width and height of the view in CSS pixels, each in two, the higher first. */
export const FRAME_HEAD = 4

export function frameOf(width: number, height: number, jpeg: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(FRAME_HEAD + jpeg.length)
  const view = new DataView(bytes.buffer)
  view.setUint16(0, width)
  view.setUint16(2, height)
  bytes.set(jpeg, FRAME_HEAD)
  return bytes
}

/** @returns `undefined` where it is none */
export function readFrame(
  bytes: Uint8Array,
): { width: number; height: number; jpeg: Uint8Array } | undefined {
  if (bytes.length <= FRAME_HEAD) return undefined
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const jpeg = bytes.subarray(FRAME_HEAD)
  if (jpeg[0] !== 0xff || jpeg[1] !== 0xd8) return undefined
  return { width: view.getUint16(0), height: view.getUint16(2), jpeg }
}
