/** Fleet, defects, the finder and the settings. */
import type { InjectedFault } from '../execution'
import type { LiveLimits } from '../live'
import type { Owner, OwnerRule, TrackerMapping } from '../tracker'
import type { BlackoutCalendar } from '../rota'
import type { Application, Environment, EvidenceKind } from '../model'
import type { SeatTile } from './run-types'
import type { KnownDefect } from './triage-types'

export type FleetAgentViewModel = {
  id: string
  name: string
  pool: string
  seats: number
  environments: string[]
  simulated: boolean
  /** Host its browsers are behind. */ through: string | null
  draining: boolean
  paused: boolean
  alive: boolean
  heartbeatAt: string
  version: string
  labels: string[]
  /** Its clock against ours. */ clockOffMs: number
  misbehaviours: InjectedFault[]
  missing: { what: string; get: string }[]
  /** Share of its seats' time at work in each of the last 24 hours, the newest last. */
  busy: number[]
  work: (SeatTile & { seat: number; runId: number })[]
}

/** `cover`: seats of live agents that can serve an environment in a pool, and the share of the last 24 hours
 * they worked for it. */
export type FleetViewModel = {
  now: string
  agents: FleetAgentViewModel[]
  environments: (Environment & { seats: number })[]
  cover: { environment: string; pool: string; seats: number; busy: number }[]
  server: string
}

export type Severity = 'low' | 'normal' | 'high' | 'critical'

export type DefectViewModel = {
  id: number
  title: string
  steps: string
  expected: string
  actual: string
  /** Where it happens and since when. */
  occurs: string
  severity: Severity
  environment: string
  build: string
  evidence: {
    kind: 'screen-before' | 'screen-after' | 'screen-marked' | 'video' | 'page-source' | 'display'
    hash: string
  }[]
  attemptId: string | null
  /** Of a result file, in place of an attempt. */
  caseRunId: string | null
  caseKey: string
  runId: number
  state: 'draft' | 'to-send' | 'sent'
  /** Where it is mailed to; null: it goes to the tracker. */
  mailTo: string | null
  trackerNumber: string | null
  trackerState: string | null
  trackerUrl: string | null
  /** What it was last called there; `null`: as here. */
  trackerTitle: string | null
  /** When it was asked last where the defect stands. */
  trackerReadAt: string | null
  sendTries: number
  sendProblem: string | null
  /** How many pieces of its evidence the tracker has. */
  attached: number
  attachProblem: string | null
  createdBy: string
  createdAt: string
  sentAt: string | null
  version: number
}

export type DefectDraftViewModel = {
  title: string
  steps: string
  expected: string
  actual: string
  /** Where it happens and since when. */
  occurs: string
  severity: Severity
  /** What speaks for that severity. */
  because: string
  environment: string
  build: string
  caseKey: string
  caseTitle: string
  runId: number
  evidence: (DefectViewModel['evidence'][number] & { title: string })[]
  /** The ways it can be sent, as Settings has them. */
  ways: ('tracker' | 'mail')[]
  /** Who answers for the application it is of. */
  owner: Owner | null
  /** Logged ones that it may be, the most alike first. */
  known: KnownDefect[]
}

export type FinderHit = {
  kind: 'case' | 'suite' | 'rotation' | 'policy' | 'run' | 'defect' | 'agent' | 'help'
  title: string
  detail: string
  href: string
}

/** `uses`: how many cases and routines name it. No value and no password is ever among these. */
export type SettingsViewModel = {
  /** Where one may be used: no applications, no pools: anywhere. */
  /** Parts of screens that targets are looked for by. */
  pictures: { name: string; width: number; height: number; setBy: string; setAt: string; uses: number }[]
  secrets: {
    name: string
    applications: string[]
    pools: string[]
    setBy: string
    setAt: string
    uses: number
  }[]
  applications: (Application & { uses: number })[]
  /** The newest first. */
  builds: { label: string; createdAt: string; runs: number }[]
  /** What there is to choose of. */
  pools: string[]
  liveLimits: LiveLimits
  ownerRules: OwnerRule[]
  /** Named by a case and not set. */
  missing: string[]
  /** Applications and databases that cases name and that are not here. */
  unknown: { applications: string[]; databases: string[] }
  tracker: { url: string } | null
  trackerMapping: TrackerMapping
  mail: { host: string; port: number; secure?: boolean; username?: string; from: string } | null
  tokens: {
    id: string
    purpose: 'agent' | 'ci' | 'calendar'
    name: string
    createdBy: string | null
    createdAt: string
    usedAt: string | null
    agents: string[]
  }[]
  databases: { key: string; address: string; uses: number }[]
  calendars: (BlackoutCalendar & { uses: number })[]
  /** Where mails of the demo are read, which no mail server delivers. */
  mailbox: string | null
  retention: Partial<Record<EvidenceKind, number>>
  hooks: {
    id: string
    address: string
    events: string[]
    createdBy: string
    lastAt: string | null
    lastAnswer: string | null
  }[]
}

type Sum = { pieces: number; bytes: number }
/** What evidence is kept, and what of it goes when. */
export type RetentionOutlook = Sum & {
  /** In 10⁹ bytes; `null`: as much as there is room for. */
  quotaGb: number | null
  kinds: (Sum & { kind: EvidenceKind })[]
  /** What goes within the first week from now, within the second, and so on. */
  weeks: Sum[]
  later: Sum
  never: Sum
}
