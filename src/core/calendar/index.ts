export { clashes, type Clash, type ClashesInput } from './clashes'
export { blackoutSpans, occurrences, type Occurrence, type OccurrencesInput } from './occurrences'
export { instantOf, localOf } from './moments'
export { timesFaults } from './faults'
