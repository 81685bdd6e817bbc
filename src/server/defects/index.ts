export { SEND_DEFECT, sendDefect } from './queue'
export { TrackerProblem } from './tracker'
export { allDefects, draftFrom, editBody, logBody, logDefect, changeDefect, sendNow } from './log'
