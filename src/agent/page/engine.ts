/** What a browser has to be able to do for `PagedDriver`: reach documents, run what stands in page.ts in
 * them, and act with its own input. */
import type { Clicking, Cookie, NetworkChange, Stored, Target, WayToGo } from '@/core/model'
import type { Box } from '@/core/execution'
import type { ElementFacts } from '@/core/live'
import type { FileInPage } from './dropping'
import type { Lost } from '../driver/entry-log'
import type { ChoiceList } from '../driver/choices'
import type { DialogAnswer, DialogListeners, Input } from '../driver/live'
import type { DriverFault, LogEntry, ScreenShot, WindowSeen } from '../driver/port'

/** What page.ts gives, by its names: of a document, and of an element. */
export type PageFunctions = {
  count(way: string, target: Target): number
  places(way: string, target: Target): string[]
  openDialog(): string | null
  origin(): string
  hideSecrets(): void
  hideCaret(): void
  /** Whether it did before. */
  hideEchoes(texts: readonly string[], origins: readonly string[]): boolean
  listen(): void
  source(most: number): string
  scrollPage(by: number | null): boolean
  takeUnsaid(): number
  takeSaid(): { level: string; text: string; at: number }[]
  takeRequests(): { url: string; status: number; ms: number; at: number; main: boolean }[]
  ready(): boolean
  stored(): Stored
  store(stored: Stored): void
  factsAt(x: number, y: number, w?: number, h?: number): ElementFacts | null
  viewBox(): Box
  takeTold(): string[]
  chooseOpen(values: readonly string[]): string
  giveFiles(files: readonly FileInPage[]): boolean
}
export type ElementFunctions = {
  read(): { text: string; value: string; states: string[] }
  attribute(name: string): string | null
  box(): Box
  reveal(): void
  cover(): string | null
  hindrance(): string | null
  isAnimated(): boolean
  isInDialog(): boolean
  activate(): void
  kindOf(): { tag: string; type: string }
  options(): ChoiceList
  choiceOf(): { list: ChoiceList | null; isUnderItsLabel: boolean }
  select(values: readonly string[]): void
  scrollAt(by: number | null): boolean
  fill(text: string): void
  dropFiles(files: readonly FileInPage[]): boolean
  hideField(secret: string | null): void
}

/** In CSS pixels of the whole page's view. */
export type Point = { x: number; y: number }

/** `F`: a document (the page's, or a frame's). `E`: an element of one. All may throw: a page may go away at
 * any moment. */
export interface Engine<F, E> {
  readonly facts: Record<string, string>
  /** Status of the answer; 0 when this browser does not tell. */
  goto(url: string, limitMs: number): Promise<number>
  /** The page's own document first. */
  frames(): Promise<F[]>
  run<K extends keyof PageFunctions>(
    frame: F,
    call: K,
    ...args: Parameters<PageFunctions[K]>
  ): Promise<ReturnType<PageFunctions[K]>>
  element(frame: F, way: string, target: Target): Promise<E>
  on<K extends keyof ElementFunctions>(
    element: E,
    call: K,
    ...args: Parameters<ElementFunctions[K]>
  ): Promise<ReturnType<ElementFunctions[K]>>
  /** In CSS pixels of the whole page's view. */
  box(frame: F, element: E): Promise<Box | undefined>
  go(where: WayToGo, limitMs: number): Promise<void>
  /** In the middle of the element, or at a point of the view. */
  click(element: E, how?: Clicking, at?: Point): Promise<void>
  hover(element: E): Promise<void>
  drag(from: E, to: E): Promise<void>
  /** A key by its name, or text; with no element it goes to what has the focus. */
  press(key: string, element: E | undefined): Promise<void>
  upload(element: E, paths: readonly string[]): Promise<void>
  /** Windows of this browser, in the order they were opened. */
  windows(): Promise<WindowSeen[]>
  /** @throws it is not there any more */
  showWindow(index: number): Promise<void>
  /** Closes the window that is worked in; another has to be shown then. @returns false: it is the first */
  closeWindow(): Promise<boolean>
  /** Status of the newest answer to the page itself, when an action led elsewhere; 0 when this browser does
   * not tell. */
  arrivedWith(): number
  waitForPage(limitMs: number): Promise<void>
  answerDialogWith(answer: DialogAnswer): void
  /** Words of a dialog of the browser itself that nobody had an answer for; it was dismissed. */
  dismissed(): Promise<string | undefined>
  url(): Promise<string>
  title(): Promise<string>
  downloads(): Promise<string[]>
  /** Where they are, if anywhere that can be read from here. */
  readonly folder: string | undefined
  /** Of this browser; where it tells only those of the page that is shown, these. */
  cookies(): Promise<Cookie[]>
  /** Where a browser takes only cookies for the page that is shown, the others are left out. */
  setCookies(cookies: readonly Cookie[]): Promise<void>
  /** Absent: there is no way to change what the network does. */
  network?(change: NetworkChange): Promise<void>
  /** What is being read of requests that failed is in the log then. Absent: it reads none. */
  settled?(): Promise<void>
  /** Words of the browser's own dialogs so far, oldest first. */
  dialogs(): readonly string[]
  /** The whole display its windows are on. Absent: they are on none. */
  display?(): Promise<ScreenShot | undefined>
  screenshot(type: 'jpeg' | 'png'): Promise<Buffer>
  /** Of a person who steers it: one doing of mouse or keys, as it comes. */
  input(order: Input): Promise<void>
  /** Place among the windows of the one that is worked in. */
  shownWindow(): Promise<number>
  /** From now on these are asked for the answer to a dialog of the browser where none was given, and told how
   * each was answered. */
  hearDialogs(listeners: DialogListeners | undefined): void
  takeLog(): LogEntry[]
  /** How many entries were left out so far. */
  lost(): Lost
  /** Comes when nothing can be done with this browser any more, with why. */
  readonly broken?: Promise<DriverFault>
  close(): Promise<void>
}
