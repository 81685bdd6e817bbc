export { bundleIndex, bundlePage, type BundledAttempt } from './bundle'
export {
  caseDocument,
  hashesOf,
  sealed,
  verdictOn,
  type DocumentedAttempt,
  type Verdict,
} from './case-document'
export { htmlOf } from './run-html'
export { CELL_CHARS, csvOf, junitOf, onlyCaseRun, runReport, sheetsOf, type RunReport } from './run-report'
export { SHEET_POLICY } from './sheet'
export { RUN_REPORT_SCHEMA } from './run-report-schema'
export { rotationMail, runMail, type MailText } from './mail-text'
export { ROTATION_REPORT_SCHEMA } from './rotation-report-schema'
export { releaseDocumentOf, type SignedSheet } from './release-html'
export { rotationHtml } from './rotation-html'
export {
  rotationCsv,
  rotationJUnit,
  rotationReport,
  rotationSheets,
  type RotationOutcome,
  type RotationRun,
  type RotationReport,
} from './rotation-report'
