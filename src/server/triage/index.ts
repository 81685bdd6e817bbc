export { decideBody, decideCauses, takeBackDecision } from './decide'
export { readDays, triageViewModel } from './desk'
export { keepCauses } from './keep'
export { runCausesViewModel } from './run-causes'
