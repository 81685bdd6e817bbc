/** Headers and bodies of requests that failed: the browser is asked for them while the page goes on. */
import { EXCHANGES_MOST } from './exchange'
import type { EntryLog } from './entry-log'

export class Exchanges {
  private readonly reading = new Set<Promise<void>>()
  private count = 0

  /** @param log where they are told @param now the clock of the attempt */
  constructor(
    private readonly log: EntryLog,
    private readonly now: () => number,
  ) {}

  /** @param askedAtMs when the request was told @param read asks the browser for it */
  note(url: string, askedAtMs: number, read: () => Promise<string>): void {
    if (++this.count > EXCHANGES_MOST) return
    const done = read().then(
      (text) => this.log.push({ type: 'exchange', atMs: this.now(), url, askedAtMs, text }),
      () => {}, // the page has gone on, and its browser does not know them any more
    )
    this.reading.add(done)
    void done.then(() => this.reading.delete(done))
  }

  /** What is being read is in the log then. */
  settled = async (): Promise<void> => void (await Promise.all(this.reading))
}
