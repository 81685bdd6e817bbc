export { giveToNobody } from './git'
export { hashOf } from './checkout'
export { credentialsOf } from './credentials'
export { readRepository, type ReadReport } from './repository'
export {
  addRepository,
  changeRepository,
  removeRepository,
  repositoryBody,
  repositoryChangeBody,
} from './add'
export { addColumn, columnBody } from './columns'
export { loadLibrary, type Loaded } from './library'
export {
  checkDefinition,
  fileNameOf,
  listVersions,
  parseBeside,
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
export { setUpOf } from './set-up'
export { policyOfSource } from './policy-source'
export { enqueueDue, enqueueReading, enqueueReadingAll, READ_REPOSITORY, takeWebhook } from './queue'
export { refreshDefinitions } from './refresh'
