export { countSteps, expectedMs, medianMs } from './durations'
