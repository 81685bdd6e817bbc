export { clashes, type Clash, type ClashesInput } from './clashes'
export { occurrences, type Occurrence, type OccurrencesInput } from './occurrences'
export { instantOf, localOf } from './moments'
