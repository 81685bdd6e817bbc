export { runCausesViewModel } from './run-causes'
