export { briefing, greeting, plural, type BriefingFacts } from './briefing'
export { gridOf, lanesOf, type CaseRunFacts } from './grid'
export type {
  AttemptSight, BenchSight, BriefingPart, CaseSight, CaseStep, DayStripSight, DefectDraftSight, DefectSight, DraftSight, FinderHit, FoundSight, ImportedSight, LibraryLine, PlannedLine, RepositoryDetailSight, RuleSight, SettingsSight, UseSight, VersionSight, FleetAgentSight, FleetSight, GridCell, GridGroup, GridRow, Lane, LaneBar,
  NowSight, OutlineEntry, PastForecast, PastMark, PersonSight, PolicyLine, RecoverySight, RecoveryTried, RepositorySight, Role, RotaClash, RotaOccurrence, RotaRotation, RotaSight, RotationBasisSight, RotationSight, RuleHistorySight, RunForecast, FinishForecast, RunLine, RunSight, SeatTile, Severity, StartForecast, StartOptions, StartsSight, SuiteNode, SuiteSight, SuitesSight, WaitingItem,
} from './types'
