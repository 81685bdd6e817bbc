export { addressOfDraft, addressOfFailure } from './failure-address'
export {
  DEFECT_PLACES,
  defectCells,
  defectsThatFit,
  NO_DEFECT_FILTER,
  placeOfDefect,
  TRACKER_DELETED,
  TRACKER_OVER,
  TRACKER_SAID_FIXED,
  type DefectFilter,
  type DefectPlace,
} from './defect-list'
export { briefing, greeting, type BriefingFacts } from './briefing'
export { plural } from '../model'
export {
  readDraft,
  reduceDraft,
  UNTOUCHED,
  UNDO_MOST,
  type DraftAction,
  type DraftState,
  type EditConflict,
} from './draft'
export { gridOf, lanesOf, type CaseRunFacts } from './grid'
export {
  canRehearse,
  rehearsalRequest,
  servedEnvironments,
  usualRehearsal,
  whereRehearsalIsRead,
  type RehearsalChoice,
  type Rehearsed,
} from './rehearsal'
export { cellsOf, isFailure, nextFailure, onlyRows, runActions, runFacts, type PlacedCell } from './run-view'
export type {
  BenchViewModel,
  DraftViewModel,
  FoundViewModel,
  ImportedViewModel,
  LibraryLine,
  RepositoryDetailViewModel,
  RuleViewModel,
  VersionViewModel,
} from './bench-types'
export type { BriefingPart, DayStripViewModel, NowViewModel, WaitingItem } from './now-types'
export type { AuditLine, MemberViewModel, PersonViewModel, Role, YouViewModel } from './people-types'
export type {
  PastForecast,
  PolicyLine,
  ReportMailLine,
  RecoveryViewModel,
  RecoveryTried,
  RotaClash,
  RotaOccurrence,
  RotaRotation,
  RotaViewModel,
  RotationBasisViewModel,
  RotationViewModel,
  RuleHistoryViewModel,
  StartsViewModel,
} from './rotation-types'
export type { GuidedListViewModel, GuidedShare, GuidedSheetViewModel, GuidedWork } from './guided-types'
export type { LiveSessionViewModel, LiveStandingViewModel } from './live-types'
export type {
  BuildsViewModel,
  ReleaseDecision,
  ReleaseViewModel,
  RequirementsTaken,
  RequirementTitle,
  SignedRelease,
} from './release-types'
export { queryOfView, VIEWED_PAGES, type SavedView, type ViewedPage } from './saved-views'
export { LOOKING_MS, MEASURED_WEEKS, TRIAGE_DAYS } from './triage-types'
export { LINES_PAGE, type BesideAnswer, type BesideRow, type ReaderStart } from './reading-types'
export {
  ACCEPTED_CHECKS,
  type AcceptedChecks,
  type AcceptedLine,
  type AcceptedNow,
  type FoundScreen,
  type FoundScreens,
} from './screen-types'
export {
  ADOPTED_CHECKS,
  type AdoptedChecks,
  type AdoptedFile,
  type AdoptionViewModel,
} from './adoption-types'
export type {
  AttemptViewModel,
  FinishForecast,
  GridCell,
  GridGroup,
  GridRow,
  Lane,
  LaneBar,
  RunForecast,
  RunLine,
  Comparison,
  RunProgress,
  RunViewModel,
  SeatTile,
  MarkedScreen,
  SharedRunLine,
  KeptForecast,
  StartForecast,
  StartOptions,
} from './run-types'
export type {
  CauseDecision,
  ConfirmationsViewModel,
  ExperimentViewModel,
  ExperimentsViewModel,
  TrackerMessageViewModel,
  ShorteningsViewModel,
  ShorteningViewModel,
  KeptCause,
  KnownDefect,
  LookersViewModel,
  OccursViewModel,
  MeasuresViewModel,
  OutboxEntry,
  ReliabilityViewModel,
  RunCauseViewModel,
  RunCausesViewModel,
  TriageGroup,
  TriageViewModel,
} from './triage-types'
export type {
  CaseViewModel,
  CaseStep,
  OutlineEntry,
  PastMark,
  PlannedLine,
  RepositoryViewModel,
  SuiteNode,
  SuiteViewModel,
  SuitesViewModel,
} from './suite-types'
export type {
  DefectDraftViewModel,
  DefectViewModel,
  FinderHit,
  FleetAgentViewModel,
  FleetViewModel,
  RetentionOutlook,
  SettingsViewModel,
  Severity,
} from './workspace-types'
