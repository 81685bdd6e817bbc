export type { Conditions, Environment } from './environment'
export {
  CAPTURES,
  EVIDENCE_KINDS,
  ELEMENT_STATES,
  FAILURE_KINDS,
  ON_FAILURE,
  PAGE_SUBJECTS,
  PRIORITIES,
  RESUMES,
  SCREEN_WAYS,
  SUBJECTS,
  TARGET_PLACES,
  TARGET_WAYS,
  waysInPage,
  type WayInPage,
  type CallExpect,
  type Capture,
  type Clicking,
  type Condition,
  type DataSet,
  type ElementState,
  type EvidenceKind,
  type FailureKind,
  type FileProblem,
  type Missing,
  type Matcher,
  type OnFailure,
  type Priority,
  type QueryExpect,
  type RecoveryPolicy,
  type RecoveryRule,
  type Resume,
  type RuleCondition,
  type Role,
  type Routine,
  type Row,
  type Step,
  type StepFields,
  type StepOf,
  type Subject,
  type Suite,
  type SuiteEntry,
  type Target,
  type TestCase,
  type Verb,
  type HeldKey,
  type MouseButton,
  type WindowChoice,
  FILE_ENCODINGS,
  FILE_TEXT_MOST,
  type UploadFile,
  type WayToGo,
} from './types'
export { fitsText, TEXT_MATCHES, type TextMatch } from './text-match'
export {
  AXES,
  COVERS,
  MISSED,
  ON_BLACKOUT,
  RETRY_AGENTS,
  SPREADS,
  WHILE_RUNNING,
  type Axis,
  type Cover,
  type EnvironmentRule,
  type RetryAgent,
  type Rotation,
  type RotationHow,
  type RotationPart,
  type RotationTimes,
  type RotationWhere,
  type Spread,
} from './rotation-types'
export { DEFINITION_KINDS, type Definition, type DefinitionKind } from './definition'
export { conditionSchema, ruleFaults, USUAL_MOST } from './policies'
export { KEEP_DAYS_MOST, keepDays, RETRIES_MOST, retriesSchema, USUAL_RETRIES } from './rotation-schema'
export { NEWEST_BUILD, USUAL_HOW } from './rotations'
export { HELD_KEYS, MOUSE_BUTTONS, WAYS_TO_GO } from './types'
export { readTypedDate, showDate } from './typed-dates'
export { parseDurationMs, describeAgo, describeDuration, durationText } from './durations'
export { NO_PAUSES, pausedMs, pausesOf, type Pauses } from './pauses'
export { describeCondition, describeRule, RESUME_WORDS } from './rule-words'
export { groupBy } from './group-by'
export { plural } from './plural'
export { keyOfTitle } from './keys'
export {
  fill,
  fillDeep,
  GIVEN_NAMES,
  referencesIn,
  UnknownReference,
  writtenReferences,
  type Scope,
} from './values'
export { CalculationFault } from './calculation-names'
export { queryProblem } from './queries'
export { reachOf, secretsIn, type Reach } from './reach'
export { isStorable, mapTexts, NESTING_MOST, storable, storableDeep, unstorableIn } from './storable'
export { expressionProblem, findsExpression, pickedBy } from './expressions'
export {
  ANOTHER_STATUS,
  columnName,
  FIRST_CELL,
  NO_ROWS,
  notAsExpected,
  NOTHING_THERE,
  ROW_COUNT,
} from './data-expectations'
export { match, NOT_YET_ACCEPTED, NOTHING_FOUND, numberIn, tidy, type Verdict } from './matchers'
export { valuesAt } from './jsonpath'
export { describeMatcher, describeTarget, sentenceText, type Sentence } from './sentences'
export { addressOf, changesPage, describeStep, handedOnBy, isOnScreen, readBy, targetsOf } from './verbs'
export { placeOfPath } from './place-of-path'
export { longestPart, ownReferences, stepsOfCase, walkSteps } from './walk'
export { parseRule, ruleHolds, unknownInRule, type Rule, type RuleFacts, type RuleProblem } from './rules'
export {
  addressAt,
  addressProblem,
  hasBuild,
  probeProblem,
  stagesOf,
  type Application,
  type Probe,
} from './applications'
export { libraryOf, withDefinitions, type WholeLibrary } from './library'
export { usesOf, type Use } from './uses'
export { brokenReferences, lackingFor, type Lacking, type SetUp, type There } from './references'
export {
  allEntries,
  entriesOf,
  plainEntry,
  casesByRule,
  flatten,
  type FlatItem,
  type Flattened,
  type LeftOut,
  type Library,
  type PolicyUse,
} from './flatten'
export {
  after,
  before,
  firstIn,
  isWithin,
  outermost,
  pathsAfterMove,
  stepPlace,
  type Place,
  type TreeLine,
} from './placing'
export { GENERATOR_NAMES } from './generator-names'
export type { Edit, Path } from './edit'
export { columnsOf, handoffsOfCase, valuesTakenBy } from './row-and-handoffs'
export { applicationsOf } from './meets'
export type { NetworkChange } from './network-change'
export {
  describeSignedIn,
  isSignedIn,
  readSignedIn,
  secretsOfSignedIn,
  STATE_CHARS,
  writeSignedIn,
  type Cookie,
  type SignedInState,
  type Stored,
} from './signed-in-state'
