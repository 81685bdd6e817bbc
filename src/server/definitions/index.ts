export { giveToNobody } from './git'
export { readRepository, type ReadReport } from './repository'
export {
  addRepository,
  changeRepository,
  removeRepository,
  repositoryBody,
  repositoryChangeBody,
} from './add'
export { libraryOf, loadLibrary, type Loaded } from './library'
export {
  checkDefinition,
  listVersions,
  readKind,
  removeDefinition,
  restoreVersion,
  saveBody,
  saveDefinition,
  showVersion,
  type Saved,
  type SaveRequest,
} from './save'
export {
  commitBody,
  commitEdits,
  moveBody,
  moveToRepository,
  resolveBody,
  resolveConflict,
  type CommitReport,
} from './commit'
export { allEntries, brokenReferences } from './references'
export { policyOfSource } from './policy-source'
export { enqueueDue, enqueueReading, READ_REPOSITORY, takeWebhook } from './queue'
export { refreshDefinitions } from './refresh'
