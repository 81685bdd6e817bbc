export { htmlOf } from './run-html'
export { csvOf, junitOf, runReport, type RunReport } from './run-report'
