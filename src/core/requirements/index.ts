export { COVERAGES, coverageOf, type CaseResult, type Coverage, type CoveredRequirement } from './coverage'
export {
  releaseSheet,
  type ReleaseInput,
  type ReleaseSheet,
  type ReleaseTopic,
  type Speaking,
  type Verdict,
  type Weight,
} from './release'
export {
  cellsOf,
  IMPORTANCES,
  readRequirements,
  requirementChanges,
  REQUIREMENTS_MOST,
  writeRequirements,
  type Importance,
  type Requirement,
  type RequirementChanges,
  type RowProblem,
} from './requirement'
export { COVERAGE_WORDS, VERDICT_WORDS, WEIGHT_WORDS } from './words'
