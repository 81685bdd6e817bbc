export { plan } from './plan'
export type {
  BoundKind,
  Lane,
  PlanAgent,
  PlannedItem,
  PlanInput,
  PlanOutput,
  PlanWork,
  Spread,
  Unplaceable,
} from './types'
