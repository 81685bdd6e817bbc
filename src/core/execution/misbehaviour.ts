/** What a simulated agent may be told to do wrong, for teaching and for tests. */
export const MISBEHAVIOURS = ['lost', 'slow', 'upset'] as const

/** `lost`: it is not heard from. `slow`: everything takes `factor` times as long. `upset`: pages break and
 * hang `factor` times as often.
 * `environment`: only there; absent: in all of them. `until` is ISO 8601. */
export type InjectedFault = {
  what: (typeof MISBEHAVIOURS)[number]
  factor?: number
  environment?: string
  until: string
}

/** Those that hold at a moment. */
export const heldNow = (misbehaviours: readonly InjectedFault[], now: string): InjectedFault[] =>
  misbehaviours.filter(({ until }) => until > now)
