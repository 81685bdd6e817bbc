export {
  AGENT_LOSSES_ALLOWED, decide, describeCounts, endedOf, FAILURE_KINDS, nextCaseRunState, nextRunState, NO_COUNTS, OPEN_STATES, OUTCOMES, outcomeOfFailure, totalOf,
  type AttemptOutcome, type CaseRunEvent, type CaseRunState, type Counts, type Decision, type Ended, type Failure, type FailureKind, type Mark, type OpenState, type Outcome, type RunEvent, type RunState,
} from './outcomes'
export { evidenceOf, type AttemptEvent, type AttemptResult, type Box, type NumberedEvent, type StepOutcome, type StepWords, type Work, type WorkRule } from './work'
export { comparePaths, outlineOf, type OutlineLine, type Screen } from './outline'
export { draftDefect, type DefectDraft, type DraftSource } from './defect'
export { randomFrom, seedOf, type Random } from './random'
export { againstHistory, type MatchesMany, type PastFailure, type RuleHistory, type Uncaught } from './against-history'
export { recover, whyUnfit, type FailureFacts, type Matches, type RecoverDecision, type RecoverInput, type RecoveryUse, type RuleLimits } from './recover'
