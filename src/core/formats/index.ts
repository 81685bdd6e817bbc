export { parseTable, writeTable, type Table, type TableProblem } from './csv'
export { csvOfCells, markdownOfCells, unescapedCell } from './write-cells'
export { encodingOf } from './encoding'
export { ResultReader } from './detect'
export {
  ResultRefused,
  UNKNOWN_BUILD,
  writtenSecondsMs,
  type ResultCase,
  type ResultProblem,
  type ResultSuite,
  type ResultSummary,
} from './results'
export { writeJUnit, type WrittenCase } from './write-junit'
export { writeCalendar, type CalendarEvent } from './write-ical'
