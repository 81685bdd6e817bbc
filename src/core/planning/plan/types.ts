export type PlanAgent = {
  id: string
  seats: number
  environments: string[]
  /** So many times as quick as usual. */ speed?: number
  from?: number
  until?: number | null
}
export type PlanWork = {
  id: string
  environment: string
  ms: number
  after?: string[]
  exclusive?: string[]
  priority?: number
  together?: string
  agent?: string
}
export type Spread = 'sequence' | 'split' | 'everywhere' | 'assigned'
/** Times are absolute, in ms, like `now`. */
export type PlanInput = {
  agents: PlanAgent[]
  work: PlanWork[]
  switchMs?: { same?: number; other?: number }
  spread: Spread
  now?: number
  budgetMs?: number
  seed?: number
}

/** The seat is taken from `startMs - switchMs`; the work itself begins at `startMs`. */
export type PlannedItem = { work: string; startMs: number; endMs: number; switchMs: number }
export type Lane = { agent: string; seat: number; items: PlannedItem[] }
export type BoundKind = 'load' | 'critical-path' | 'exclusive' | 'single-item' | 'window'
export type Unplaceable = { work: string; reason: string }
export type PlanOutput = {
  lanes: Lane[]
  makespanMs: number
  boundMs: number
  bound: BoundKind
  utilisation: number
  unplaceable: Unplaceable[]
  cut?: true
}

export const SWITCH_MS = { same: 0, other: 4000 }
