export { briefing, greeting, plural, type BriefingFacts } from './briefing'
export { gridOf, lanesOf, type CaseRunFacts } from './grid'
export type {
  BenchSight,
  DraftSight,
  FoundSight,
  ImportedSight,
  LibraryLine,
  RepositoryDetailSight,
  RuleSight,
  UseSight,
  VersionSight,
} from './bench-types'
export type { BriefingPart, DayStripSight, NowSight, WaitingItem } from './now-types'
export type { AuditLine, MemberSight, PersonSight, Role, YouSight } from './people-types'
export type {
  PastForecast,
  PolicyLine,
  RecoverySight,
  RecoveryTried,
  RotaClash,
  RotaOccurrence,
  RotaRotation,
  RotaSight,
  RotationBasisSight,
  RotationSight,
  RuleHistorySight,
  StartsSight,
} from './rotation-types'
export type {
  AttemptSight,
  FinishForecast,
  GridCell,
  GridGroup,
  GridRow,
  Lane,
  LaneBar,
  RunForecast,
  RunLine,
  RunSight,
  SeatTile,
  StartForecast,
  StartOptions,
} from './run-types'
export type {
  CaseSight,
  CaseStep,
  OutlineEntry,
  PastMark,
  PlannedLine,
  RepositorySight,
  SuiteNode,
  SuiteSight,
  SuitesSight,
} from './suite-types'
export type {
  DefectDraftSight,
  DefectSight,
  FinderHit,
  FleetAgentSight,
  FleetSight,
  SettingsSight,
  Severity,
} from './workspace-types'
