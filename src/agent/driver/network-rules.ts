/** Rules of what the network does with requests, whatever the engine. */
import { fitsText } from '@/core/model/text-match'
import type { NetworkChange } from '@/core/model'

/** More are a case that adds one in each turn of a loop. */
const RULES_MOST = 200
const DELAY_MOST_MS = 120_000

export type NetworkVerdict =
  | { do: 'pass' }
  | { do: 'fail' }
  | { do: 'delay'; ms: number }
  | { do: 'answer'; status: number; type: string; body: string }

export class NetworkRules {
  /** The newest first. */
  private rules: NetworkChange[] = []
  isOffline = false

  get isUsual(): boolean {
    return this.rules.length === 0 && !this.isOffline
  }

  change(change: NetworkChange): void {
    const { does } = change
    if (does === 'usual') this.rules = []
    if (does === 'usual' || does === 'online') this.isOffline = false
    else if (does === 'offline') this.isOffline = true
    else this.rules = [change, ...this.rules].slice(0, RULES_MOST)
  }

  /** What becomes of a request. @param url as it is asked for */
  of(url: string): NetworkVerdict {
    if (this.isOffline) return { do: 'fail' }
    const rule = this.rules.find(({ requests = '' }) => fitsText(url, requests, 'pattern'))
    if (!rule) return { do: 'pass' }
    if (rule.does === 'delay') return { do: 'delay', ms: Math.min(rule.delayMs ?? 0, DELAY_MOST_MS) }
    if (rule.does === 'fail') return { do: 'fail' }
    return {
      do: 'answer',
      status: rule.status ?? 200,
      type: rule.type ?? typeOf(rule.body ?? ''),
      body: rule.body ?? '',
    }
  }
}

const typeOf = (body: string) => (/^\s*[[{]/.test(body) ? 'application/json' : 'text/plain')

/** Pages of any origin may read what we answer with. */
export const ANSWER_HEADERS = { 'access-control-allow-origin': '*' }
