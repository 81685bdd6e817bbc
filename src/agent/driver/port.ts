/** The interface that all drivers implement, whatever the engine. The step interpreter uses nothing else of a
 * browser. */
import type { LiveBrowser, LiveListeners } from './live'
import type {
  Clicking,
  ElementState,
  NetworkChange,
  SignedInState,
  Target,
  UploadFile,
  WayToGo,
} from '@/core/model'
import type { Box, FailureKind } from '@/core/execution'
import type { ComparedPicture, ScreenWanted } from './eyes'

/** What stood in the way of an action; becomes the failure of its step. */
export class DriverFault extends Error {
  constructor(
    readonly kind: FailureKind,
    message: string,
  ) {
    super(message)
  }
}

/** Where a target was found, by which of its ways, and how sure that is (0 to 1) where it was only seen. */
export type Found = { way: string; box?: Box; sure?: number }
export type Look = { count: number; text: string; value: string; states: ElementState[]; found?: Found }
export type WindowSeen = { title: string; url: string }
export type ScreenShot = {
  bytes: Uint8Array
  mime: 'image/jpeg' | 'image/png'
  width: number
  height: number
}
export type LogEntry =
  | { type: 'console'; atMs: number; level: string; text: string }
  /** `status`: 0 when there was no answer, -1 when this browser does not tell. */
  | { type: 'request'; atMs: number; method: string; url: string; status: number; ms: number }
  /** Headers and bodies of a request that failed, told later than it: `askedAtMs` is its `atMs`. */
  | { type: 'exchange'; atMs: number; url: string; askedAtMs: number; text: string }

/** Who is signed in, in one browser. */
export interface Identity {
  /** Its cookies (in WebDriver those of the page), and what pages of the shown page's origin have stored. */
  keep(): Promise<SignedInState>
  /** Signs in by what another browser kept, and leaves an empty page. */
  take(state: SignedInState, limitMs: number): Promise<void>
}

/** Every `limitMs` is how long to try before a `DriverFault`. A driver serves one attempt and is closed after
 * it. */
export interface BrowserDriver {
  readonly facts: Record<string, string>
  open(url: string, limitMs: number): Promise<void>
  /** By the browser's own buttons. */
  go(where: WayToGo, limitMs: number): Promise<void>
  click(target: Target, limitMs: number, how?: Clicking): Promise<Found>
  /** @param hide keeps the text off the screens, as in a password field
   * @returns `masked: true` when the field hides what is typed; then the value must not be logged */
  type(target: Target, text: string, limitMs: number, hide?: boolean): Promise<Found & { masked: boolean }>
  /** Chooses the option with this label or value; `also`: and these, of a list that takes several. */
  choose(target: Target, option: string, limitMs: number, also?: readonly string[]): Promise<Found>
  press(key: string, target: Target | undefined, limitMs: number): Promise<Found | undefined>
  hover(target: Target, limitMs: number): Promise<Found>
  drag(from: Target, to: Target, limitMs: number): Promise<Found>
  /** Gives files of these names and texts to a file field. */
  upload(target: Target, files: readonly UploadFile[], limitMs: number): Promise<Found>
  scrollTo(target: Target, limitMs: number): Promise<Found>
  /** The page, or what scrolls at an element. @param by CSS pixels, negative: up; absent: most of what is
   * seen of it, down
   * @returns whether anything moved */
  scrollBy(by: number | undefined, within: Target | undefined, limitMs: number): Promise<boolean>
  /** Windows and tabs of this browser, in the order they were opened. */
  windows(): Promise<WindowSeen[]>
  /** Works in this one from now on, by its place among `windows`. */
  showWindow(index: number, limitMs: number): Promise<void>
  /** Closes the one that is worked in, and goes on in the first. @throws {DriverFault} script: it is that */
  closeWindow(limitMs: number): Promise<void>
  /** Answers the next dialog of the browser itself; without it, dialogs are dismissed and told. */
  answerDialog(accept: boolean, text: string | undefined): Promise<void>
  /** Changes what the network does from now on. Absent: there is no way to. */
  network?(change: NetworkChange): Promise<void>
  readonly identity: Identity
  /** What is there at this moment; does not wait. */
  look(target: Target): Promise<Look>
  /** An attribute at this moment, of a target that is there once; `undefined` when it has none. */
  attribute(target: Target, name: string): Promise<string | undefined>
  url(): Promise<string>
  title(): Promise<string>
  /** Names of the files downloaded so far, oldest first. */
  downloads(): Promise<string[]>
  /** One of them. Absent: this driver gives none.
   * @throws {DriverFault} page: it is not there, or too large */
  downloaded?(name: string): Promise<Uint8Array>
  /** Lines that are read on a part of the screen, in CSS pixels. Absent: this driver reads nothing.
   * @throws {DriverFault} */
  linesIn?(part: Box): Promise<string[]>
  /** Words of the browser's own dialogs so far, oldest first, whatever they were answered with. */
  dialogs(): Promise<string[]>
  /** The screen now, hidden fields masked; `undefined` where this driver has no picture to give.
   * @param patient a step needs it: a machine that is slow to paint is waited for */
  screen(patient?: boolean): Promise<ScreenShot | undefined>
  /** A small picture of the screen, for people who watch live: cheap, and taken while other calls go on.
   * Absent: this driver gives none. */
  peek?(): Promise<{ bytes: Uint8Array; mime: 'image/jpeg' | 'image/png' } | undefined>
  /** As `screen`, without loss, and without what blinks. Absent: a screen has to do. */
  exact?(): Promise<ScreenShot | undefined>
  /** The whole display the browser stands on, with what is outside the page; what `screen` masks is masked.
   * Absent: there is none, as with a browser without a window. */
  display?(): Promise<ScreenShot | undefined>
  /** Takes the screen and compares it. Absent: nobody is there to look.
   * @returns nothing where this browser gives no screen
   * @throws {DriverFault} target: the part is not on the page */
  compareScreen?(wanted: ScreenWanted): Promise<ComparedPicture | undefined>
  source(): Promise<string>
  /** Lets a person steer it from now on. Absent: nobody can. */
  live?(listeners: LiveListeners): Promise<LiveBrowser>
  /** From now on pages show these texts to nobody's screen: secrets that come back, in documents of these
   * origins. */
  conceal(texts: readonly string[], origins: readonly string[]): Promise<void>
  /** Label of a modal dialog that is open, if one is. */
  openDialog(): Promise<string | undefined>
  /** Console and network entries since the last call, `atMs` by the attempt's clock. */
  takeLog(): LogEntry[]
  /** What is still read of requests that failed is in the log then. Absent: nothing is. */
  settled?(): Promise<void>
  /** Comes when nothing can be done with this browser any more, with why; absent: it is not seen from
   * here. */
  readonly broken?: Promise<DriverFault>
  /** How many entries were left out so far, because there were too many. */
  lost?(): { console: number; request: number }
  /** Whoever asked stopped waiting for an answer: what is asked next does not wait long. */
  giveUp?(): void
  /** Ends the recording. @returns WebM and the moment of its first frame; `undefined` when there is none */
  stopVideo(): Promise<{ bytes: Uint8Array; startMs: number } | undefined>
  close(): Promise<void>
}

/** Characters of a text that are looked at: a page may have hundreds of megabytes. */
export const TEXT_MOST = 200_000
/** Windows a page may open beside its own. */
export const POPUPS_MOST = 4
export const TOO_MANY_WINDOWS = `a window was closed: a page has ${POPUPS_MOST} at most beside its own`
/** Dialogs of the browser that are kept, and how much of what each says. */
export const [DIALOGS_MOST, DIALOG_CHARS] = [100, 2000]
/** Characters of a page's source that are kept. */
export const SOURCE_MOST = 2_000_000

/** The attempt's clock: real, or virtual for history made in a hurry. */
export type Pace = { now(): number; pause(ms: number): Promise<void> }

export function realPace(): Pace {
  const start = performance.now()
  return {
    now: () => Math.round(performance.now() - start),
    pause: (ms) => new Promise((resolve) => setTimeout(resolve, ms)),
  }
}

/** Time that passes only by pausing. */
export function virtualPace(): Pace {
  let now = 0
  return {
    now: () => Math.round(now),
    pause: async (ms) => {
      now += ms
    },
  }
}
