export {
  matrix,
  type Level,
  type MatrixInput,
  type MatrixOutput,
  type MatrixRow,
  type MatrixRule,
} from './matrix'
export { estimate, type Estimate, type EstimateInput, type PastRun } from './estimate'
export {
  plan,
  type BoundKind,
  type Lane,
  type PlanAgent,
  type PlannedItem,
  type PlanInput,
  type PlanOutput,
  type PlanWork,
  type Spread,
  type Unplaceable,
} from './plan'
export {
  forecast,
  forecastWithPlan,
  type ForecastInput,
  type ForecastOutput,
  type ForecastWork,
  type Risk,
} from './forecast'
