export { liveSessionViewModel, liveStandingViewModel } from './live'
export { dayStrip, dayStripAround, nowViewModel } from './now'
export { caseViewModel, suiteViewModel, suitesViewModel, suiteViewModelIfThere, libraryLines } from './suites'
export { attemptViewModel, comparisonsViewModel, readerStart, runProgress, runViewModel } from './runs'
export { defectViewModel, finderViewModel, fleetViewModel } from './fleet'
export {
  benchViewModel,
  draftViewModel,
  importedViewModel,
  repositoryDetailViewModel,
  ruleViewModel,
} from './bench'
export { recoveryViewModel } from './recovery'
export { settingsViewModel } from './settings'
export { rotaViewModel } from './rota'
export { basisBody, nextStarts, rotationBasis, rotationViewModel, startsBody } from './rotation'
export { startOptions } from './start'
