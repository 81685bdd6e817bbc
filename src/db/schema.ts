/** Tables of the product. */
export {
  applications,
  builds,
  environments,
  databases,
  pictures,
  secrets,
  settings,
  audit,
  savedViews,
} from './tables/workspace'
export { repositories, type FoundFile, definitions, versions } from './tables/definitions'
export { TOKEN_PURPOSES, tokens, agents } from './tables/fleet'
export {
  type RunSnapshot,
  RUN_KINDS,
  runs,
  caseRuns,
  quarantines,
  importedResults,
  type ImportedResult,
  sharedRuns,
} from './tables/runs'
export { occurrenceStarts, rotaMarks } from './tables/rota'
export { type Recovery, attempts, attemptLogs, exclusiveHolds, events, handoffs } from './tables/attempts'
export { guidedSheets } from './tables/guided'
export {
  causeDecisions,
  causeHandovers,
  causeMerges,
  causeSplits,
  lookers,
  experiments,
  shortenings,
  type TriedSteps,
  runCauses,
  type ExperimentArm,
} from './tables/triage'
export { acceptedScreens } from './tables/screens'
export { jointArrivals, jointValues } from './tables/joint'
export { evidence, evidenceUses, liveLines, liveScreens, markedScreens, screenWords } from './tables/evidence'
export {
  confirmations,
  DEFECT_STATES,
  defects,
  trackerMessages,
  defectStates,
  type DefectEvidence,
} from './tables/defects'
export { takenMessages, hooks, reportMails, MAILED_EVERY, MAILED_ABOUT, MAILED_AS } from './tables/outside'
export { RELEASE_DECISIONS, releases, requirements } from './tables/requirements'
