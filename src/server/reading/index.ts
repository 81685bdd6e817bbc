export { askBeside, askLog, askLogOf } from './ask'
export { findIn, narrowingIn, numberIn, windowIn } from './asked'
export { makeOpenings } from './make-openings'
export { packLongLogs, packOldLogs } from './pack'
