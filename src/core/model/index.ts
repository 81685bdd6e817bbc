export {
  ELEMENT_STATES, PRIORITIES, TARGET_WAYS,
  type CallExpect, type Definition, type DefinitionKind, type ElementState, type Environment, type FileProblem, type Matcher, type Priority,
  type Routine, type Row, type Step, type StepFields, type StepOf, type Subject, type Suite, type SuiteEntry, type Target, type TestCase, type Verb,
} from './types'
export { parseDurationMs, describeDuration } from './durations'
export { fill, fillDeep, UnknownReference, type Scope } from './values'
export { match, numberIn, tidy, type Verdict } from './matchers'
export { valuesAt } from './jsonpath'
export { describeMatcher, describeStep, describeTarget, sentenceText, type Sentence } from './sentences'
export { flatten, type FlatItem, type Flattened, type LeftOut, type Library } from './flatten'
