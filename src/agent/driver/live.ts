/** What a browser has to be able to do for a person to steer it. */
import type { UploadFile } from '@/core/model'
import {
  EarlierScreens,
  type AskedDialog,
  type ElementFacts,
  type LiveList,
  type LiveOrder,
  type RecordedEvent,
  type ScreenSeen,
} from '@/core/live'

/** What the page saw a person do; the time is added by whoever listens. */
export type Done = RecordedEvent extends infer E ? (E extends RecordedEvent ? Omit<E, 'atMs'> : never) : never
/** `screen`: before something is done, where the page shows something else than the last time. */
export type Seen = Done | ({ kind: 'screen' } & ScreenSeen)
export type Input = Extract<LiveOrder, { do: 'mouse' | 'wheel' | 'key' | 'text' }>

export type LiveListeners = {
  /** A new picture of the view, in CSS pixels; none while nothing changes. */
  frame(jpeg: Uint8Array, width: number, height: number): void
  seen(event: Seen): void
  /** A list is open that the browser would draw outside of the page. */
  list(list: LiveList | null): void
  /** The page asks for a file, or several. */
  files(several: boolean): void
  /** A dialog of the browser is open. @returns the answer; `undefined`: nobody gives one */
  ask(dialog: AskedDialog): Promise<DialogAnswer | undefined>
  dialog(words: string, answer: 'accept' | 'dismiss'): void
}
/** A page may say so much at once of what a person did; more is no person. */
export const TOLD_CHARS_MOST = 200_000
/** Dialogs of the browser are told at most so often. */
export const DIALOG_EACH_MS = 1000
export type DialogListeners = Pick<LiveListeners, 'ask' | 'dialog'>
export type DialogAnswer = { accept: boolean; text: string | undefined }

export interface LiveBrowser {
  input(order: Input): Promise<void>
  /** Of the list that is open. */
  choose(values: readonly string[]): Promise<void>
  /** To what asked for files last; none: nothing is chosen. @returns whether anything asks */
  give(files: readonly UploadFile[]): Promise<boolean>
  /** Of what is at a point, or around a part of the view that begins there; `null`: nothing. */
  factsAt(x: number, y: number, w?: number, h?: number): Promise<ElementFacts | null>
  /** Its place among the windows. */
  shownWindow(): Promise<number>
  /** Pictures a second that this browser gives at the most, as measured; absent: as many as anybody sees. */
  rate?(): number
  /** Goes on with the window that is shown now. */
  follow(): Promise<void>
  close(): Promise<void>
}

/** A list, so much further to the right and down. */
export const moved = (list: LiveList, dx: number, dy: number): LiveList => ({
  ...list,
  box: { ...list.box, x: Math.round(list.box.x + dx), y: Math.round(list.box.y + dy) },
})

type SeenScreen = Extract<Seen, { kind: 'screen' }>
/** A page may say what is no event at all. */
const isScreen = (event: Seen | null): event is SeenScreen => event?.kind === 'screen'

/** Steered as `open` opens it, while it is remembered which names stood more than once on a page: elements
 * are told with that. @param listeners hear nothing of screens then */
export async function openWithMemory(
  open: (listeners: LiveListeners) => Promise<LiveBrowser>,
  listeners: Omit<LiveListeners, 'seen'> & { seen(event: Done): void },
): Promise<LiveBrowser> {
  const screens = new EarlierScreens()
  const browser = await open({
    ...listeners,
    seen(event) {
      if (isScreen(event)) screens.add(event)
      else listeners.seen(screens.withRepeatedOf(event))
    },
  })
  return {
    input: (order) => browser.input(order),
    choose: (values) => browser.choose(values),
    give: (files) => browser.give(files),
    factsAt: async (x, y, w, h) => {
      const facts = await browser.factsAt(x, y, w, h)
      return facts && screens.withRepeated(facts)
    },
    shownWindow: () => browser.shownWindow(),
    ...(browser.rate && { rate: () => browser.rate!() }),
    follow: () => browser.follow(),
    close: () => browser.close(),
  }
}
