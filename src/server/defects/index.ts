export { adoptBody, adoptIssue, againBody, foundAtTracker, seenAgain } from './again'
export { ATTACH_EVIDENCE, attachEvidence } from './attach'
export { sayAllBody, sayOfAll, sendAll, sendAllBody, setSeverities, severitiesBody } from './bulk'
export { serveDefects } from './export'
export { confirmationsViewModel, confirmBody, startConfirmation } from './confirm'
export { tryMapping } from './mapping-try'
export { mappingBody, putTrackerMapping, trackerMapping } from './mapping'
export { occursViewModel } from './occurs'
export { ownerRules, ownersBody, putOwnerRules } from './owners'
export { newTrackerSecret, takeTrackerMessage } from './told'
export {
  messageBody,
  messagesViewModel,
  SAY_AT_TRACKER,
  sayOfDefect,
  sendMessages,
  settleMessage,
} from './messages'
export { outboxViewModel, tryAllNow } from './outbox'
export { SEND_DEFECT, sendDefect } from './queue'
export { removeTracker, setTracker, trackerBody, trackerLine, TrackerProblem } from './tracker'
export { draftFrom, draftOfCaseRun } from './draft'
export { allDefects, editBody, logBody, logDefect, changeDefect, sendBody, sendNow } from './log'
export { endShortening, goOnShortening, shorteningsViewModel, startShortening } from './shorten'
export { enqueueTrackerReads, READ_TRACKER, readTrackerStates } from './states'
