export { fileEvidenceStore } from './store'
export { dropOldEvidence, putRetention, retention, retentionBody } from './retain'
export { keepEvidence, missingEvidence, serveEvidence } from './keep'
