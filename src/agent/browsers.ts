/** What an engine brings to be used by agents: whether it is installed, and its browsers. */
import type { Environment } from '@/core/model'
import type { BrowserDriver, Pace } from './driver/port'

/** A browser that was opened for an attempt. */
export type OpenedBrowser = {
  driver: BrowserDriver
  /** Of its processes. */
  mark: string
  /** Where its downloads are until the attempt is closed. */
  downloads: string
  /** Ends its processes at once. */
  end(): void
}

/** Browsers of one engine in one agent process. */
export interface Browsers {
  /** @param seat names the seat among all of this process: no two seats share a browser
   * @param films whether a video is made */
  open(seat: string, environment: Environment, pace: Pace, films: boolean): Promise<OpenedBrowser>
  close(): Promise<void>
}

export type Engine = {
  /** As people know it. */
  name: string
  /** Debian packages that are missing on this machine; none: it can be used. */
  missing(): readonly string[]
  browsers(): Browsers
}

type Holder = { mark: string; downloads: string; kill(): void; close(): Promise<void> }

/** Of an engine whose browsers are kept from one attempt to the next: each seat has its own, so that what a
 * page does to its browser ends one attempt.
 * @param hold makes what holds the browser of one seat
 * @param drive opens a driver in it */
export function browsersBySeat<H extends Holder>(
  hold: () => H,
  drive: (holder: H, environment: Environment, pace: Pace, films: boolean) => Promise<BrowserDriver>,
): Browsers {
  const holders = new Map<string, H>()
  return {
    async open(seat, environment, pace, films) {
      const holder = holders.get(seat) ?? hold()
      holders.set(seat, holder)
      const driver = await drive(holder, environment, pace, films)
      return { driver, mark: holder.mark, downloads: holder.downloads, end: () => holder.kill() }
    },
    async close() {
      await Promise.all([...holders.values()].map((holder) => holder.close()))
    },
  }
}
