export { decideBody, decideCauses, takeBackDecision } from './decide'
export { runCausesViewModel } from './run-causes'
