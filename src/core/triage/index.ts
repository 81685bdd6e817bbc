export { cause, causeBy, learnt, type CauseAnswer, type CauseInput, type Weights } from './cause'
export {
  CONFIDENCE,
  confirmationWords,
  confirmedBy,
  timesToConfirm,
  type ConfirmCounts,
  type Confirmed,
  type ConfirmVerdict,
} from './confirm'
export {
  byUrgency,
  causeDecided,
  DECISIONS,
  examplesOf,
  overRuns,
  standsFor,
  type Decision,
  type DecisionKind,
} from './decisions'
export { CAUSES, type CauseName, type GroupFacts } from './evidence'
export {
  afterRuns,
  ARMS,
  experimentFor,
  type Arm,
  type ArmResult,
  type Experiment,
  type Likelihoods,
} from './experiment'
export {
  group,
  SIGNATURE_VERSION,
  signatureOf,
  type FailureGroup,
  type GroupedFailure,
  type GroupInput,
  type Signed,
} from './group'
export { measuresOf, WEEK_MS, type Measures, type RotationMeasures, type WeekMeasures } from './measures'
export { standsAs, type Merges } from './merges'
export { occursWords, type TriedWith } from './occurs'
export { causesOfRun, weightsBy, type RunCause, type RunCausesInput, type RunFailure } from './run-causes'
export { reliabilityOf, type Band, type Proposed, type Reliability } from './reliability'
export {
  shorten,
  shortenNext,
  shortenSteps,
  stepsKept,
  type ShortenInput,
  type ShortenNext,
  type ShortenStep,
  type ShortenTry,
} from './shorten'
export { proposeSeverity, type ProposedSeverity, type SeverityFacts } from './severity'
export { similar, type Described, type Similar, type SimilarInput } from './similar'
export { partsOf, SPLIT_BY, splitSignature, splitWords, type Part, type Split, type SplitBy } from './splits'
export type { StandingRules } from './standing'
export { where, type Factors, type FactorValue, type Place, type WhereInput } from './where'
