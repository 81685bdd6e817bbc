/** What a browser has to be able to do for a person to steer it. */
import type { UploadFile } from '@/core/model'
import type { AskedDialog, ElementFacts, LiveList, LiveOrder, RecordedEvent } from '@/core/live'

/** What the page saw a person do; the time is added by whoever listens. */
export type Seen = RecordedEvent extends infer E ? (E extends RecordedEvent ? Omit<E, 'atMs'> : never) : never
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
  /** Of what is at a point; `null`: nothing. */
  factsAt(x: number, y: number): Promise<ElementFacts | null>
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
