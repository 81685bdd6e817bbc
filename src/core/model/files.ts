/** The topic's second surface: the case file format. Apart from index.ts because it carries Ajv, which needs
 * `eval` and must not reach the browser. */
export { FILE_SCHEMAS } from './schemas'
export { FILE_LIMIT_CHARS, kindOfFile, parseDefinition, type Parsed } from './parse'
export { parseDataSet, tablesNamedIn, writeDataSet } from './tables'
export { describeChanges } from './changes'
export { adoptionOf, withAdopted, type Adoption, type FailedCheck, type Refusal } from './adopting'
