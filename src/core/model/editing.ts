/** The topic's third surface: changing a file's text. Carries the YAML library, and no Ajv: the interface
 * edits with it. */
export { editSource, EditFault, keepLayout, type Edit, type Path } from './edit'
export {
  after,
  before,
  comparePaths,
  firstIn,
  isWithin,
  outermost,
  pathsAfterMove,
  stepPlace,
  type Place,
  type TreeLine,
} from './placing'
export { fieldsOf, newStep, VERB_NAMES, VERBS } from './verbs'
export type { StepField } from './verbs/definition'
export { fileForm, stepForm, stepsText, writeDefinition } from './write'
export { parseDataSet, writeDataSet } from './tables'
export {
  columnChars,
  pasteCells,
  withCell,
  withColumn,
  withoutColumn,
  withoutRow,
  withRow,
  type Cells,
} from './table-cells'
export { readPolicy, readRotation } from './read-local'
export { completionsAt, type Offers } from './complete'
export { GENERATOR_NAMES } from './generator-names'
