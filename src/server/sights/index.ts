export { dayStrip, dayStripAround, nowSight } from './now'
export { caseSight, startOptions, suiteSight, suitesSight } from './suites'
export { attemptSight, runSight } from './runs'
export { defectSight, finderSight, fleetSight } from './fleet'
