/** What the network of a browser does from a step on. `fail`, `answer`, `delay`: to requests whose address is
 * as `requests` says (`*` for any text), the newest rule first; `usual`: all of it is taken back. */
export const NETWORK_DOINGS = ['fail', 'answer', 'delay', 'offline', 'online', 'usual'] as const
export type NetworkChange = {
  does: (typeof NETWORK_DOINGS)[number]
  requests?: string
  /** Of `answer`. */
  status?: number
  type?: string
  body?: string
  /** Of `delay`. */
  delayMs?: number
}
