export {
  AGENT_LOSSES_MOST,
  decide,
  describeCounts,
  endedOf,
  FAILURE_KINDS,
  NO_COUNTS,
  OUTCOMES,
  outcomeOfFailure,
  totalOf,
  type AttemptOutcome,
  type Counts,
  type Decision,
  type Ended,
  type Failure,
  type FailureKind,
  type Mark,
  type Outcome,
  type Retries,
} from './outcomes'
export {
  nextState,
  OPEN_STATES,
  statesBefore,
  type AttemptState,
  type CaseRunState,
  type EventOf,
  type Machine,
  type OpenState,
  type RunState,
  type StateOf,
} from './states'
export { judge, type TryPart, type Verdict } from './tries'
export { isNeeded, seatRoles, type FreeSeats, type RoleWanted, type Seated } from './seating'
export {
  evidenceOf,
  type AcceptedScreen,
  type AttemptEvent,
  type AttemptResult,
  type Box,
  type NumberedEvent,
  type ScreenCheck,
  type StepOutcome,
  type StepWords,
  type Work,
  type WorkRule,
} from './work'
export { nearestEnvironment } from './nearest'
export { differAlike } from './alike-screens'
export { isPageLine } from './by-page'
export { mendsIn, type Mend } from './mends'
export { outlineText } from './outline-text'
export { LINE_KINDS, linesOfKind, linesWith, verbsIn } from './find-lines'
export { align, differs, type AlignedRow } from './align'
export { caseRunTime, FRAMES, type CaseRunTime, type Film, type TimedAttempt } from './film'
export {
  LogReading,
  rowOf,
  type HitsAnswer,
  type LineAnswer,
  type LineRow,
  type Narrowing,
  type OutlineHead,
  type OutlineWindow,
} from './log-reading'
export { comparePaths, outlineOf, type OutlineLine, type Screen } from './outline'
export { draftOfResult, type ResultFailure } from './result-defect'
export { draftDefect, type DefectDraft, type DraftSource } from './defect'
export { randomFrom, seedOf, type Random } from './random'
export { againstHistory, type PastFailure, type RuleHistory, type Uncaught } from './against-history'
export {
  recover,
  whyUnfit,
  type FailureFacts,
  type RecoverDecision,
  type RecoverInput,
  type RecoveryUse,
  type RuleLimits,
} from './recover'
export { AGENT_PROTOCOL, OWN_VERSION, protocolRefusal, PROTOCOLS_SERVED } from './protocol'
export { heldNow, MISBEHAVIOURS, type InjectedFault } from './misbehaviour'
