export { confirmationsViewModel, confirmBody, startConfirmation } from './confirm'
export { SEND_DEFECT, sendDefect } from './queue'
export { removeTracker, setTracker, trackerBody, trackerLine, TrackerProblem } from './tracker'
export { allDefects, draftFrom, editBody, logBody, logDefect, changeDefect, sendBody, sendNow } from './log'
