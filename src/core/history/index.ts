export { expectedMs, medianMs } from './durations'
