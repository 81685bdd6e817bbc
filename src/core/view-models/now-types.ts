/** What Now and the strip of the day are given. Here and in the files beside it: what the server makes as
 * JSON and the interface draws; moments are ISO 8601 in UTC. */
import type { Mark } from '../execution'
import type { RunLine, SeatTile } from './run-types'
import type { RotaOccurrence, RotaClash, RotaViewModel } from './rotation-types'

export type DayStripViewModel = {
  now: string
  from: string
  to: string
  runs: RunLine[]
  planned: RotaOccurrence[]
  clashes: RotaClash[]
  blackouts: RotaViewModel['blackouts']
  agents: { alive: number; all: number; seatsBusy: number; seats: number }
}

/** A sentence in parts; a part with `href` is a link, `tone` colours it like the mark of that name. */
export type BriefingPart = { text: string; href?: string; tone?: Mark | 'mark' }

export type WaitingItem = {
  id: string
  mark: Mark
  title: string
  why: string
  action: string
  href: string
  area: string
}

export type NowViewModel = {
  greeting: string
  /** Until the first run: what of the way to it is done, and whether an agent is here. */
  begin: { application: boolean; case: boolean; agent: boolean } | null
  subtitle: string
  briefing: BriefingPart[]
  waiting: WaitingItem[]
  running: (RunLine & { seats: SeatTile[]; waitingSeats: boolean; byHand: boolean })[]
  lately: RunLine[]
}
