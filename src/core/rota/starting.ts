/** The topic's second surface: when rotations start, and moving that. Carries the libraries of zones and
 * recurrences, which the interface does without. */
export { decideDue, LATE_MS, type Decision } from './due'
export { rotaClashes } from './fixes'
export { moveOne, moveSeries } from './move'
export { startsOf } from './times'
