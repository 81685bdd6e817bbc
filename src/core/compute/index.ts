export { BadInput, type Fault } from './fault'
export { compute, COMPUTATION_NAMES, schemaOf, type Ports } from './registry'
