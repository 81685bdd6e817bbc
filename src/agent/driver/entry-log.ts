/** What a page says and asks for, kept within bounds: a page may say 200,000 things in a second. */
import { EXCHANGES_MOST } from './exchange'
import type { LogEntry } from './port'

/** Of an attempt. */
const ENTRIES_MOST = { console: 10_000, request: 10_000 } as const
export const ENTRY_TEXT_CHARS = 2000

export type Lost = { console: number; request: number }

export class EntryLog {
  private entries: LogEntry[] = []
  private exchanges = 0
  private readonly kept: Lost = { console: 0, request: 0 }
  /** How many were left out, because there were too many. */
  readonly lost: Lost = { console: 0, request: 0 }

  push(entry: LogEntry): void {
    if (entry.type === 'exchange') {
      if (this.exchanges++ < EXCHANGES_MOST) this.entries.push(clipped(entry))
      return
    }
    if (this.kept[entry.type] >= ENTRIES_MOST[entry.type]) {
      this.lost[entry.type]++
      return
    }
    this.kept[entry.type]++
    this.entries.push(clipped(entry))
  }

  /** What came since the last call, oldest first. */
  take(): LogEntry[] {
    const taken = this.entries
    this.entries = []
    return taken
  }
}

function clipped(entry: LogEntry): LogEntry {
  if (entry.type === 'console') return { ...entry, text: entry.text.slice(0, ENTRY_TEXT_CHARS) }
  return { ...entry, url: entry.url.slice(0, ENTRY_TEXT_CHARS) }
}
