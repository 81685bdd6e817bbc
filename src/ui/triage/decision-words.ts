/** Causes and decisions of failures, as people say them. */
import { DECISIONS, type CauseName, type DecisionKind } from '@/core/triage'

export const CAUSE_WORDS: Record<CauseName, string> = {
  'product-defect': 'a defect of the product',
  'test-fault': 'a fault of the test',
  'environment-fault': 'the environment',
  'test-data': 'test data',
  'intended-change': 'an intended change',
  unclear: 'unclear',
}
export const DECISION_WORDS: Record<DecisionKind, string> = {
  ...CAUSE_WORDS,
  'known-defect': 'a known defect',
  'no-failure': 'not a failure',
}
/** By one key each: 1 to 8. */
export const DECISION_KEYS = DECISIONS.map((as, i) => ({ as, key: String(i + 1) }))
