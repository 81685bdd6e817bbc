export { matrix, type MatrixOutput, type MatrixRow } from './matrix'
export type { Level, MatrixInput, MatrixRule } from './space'
