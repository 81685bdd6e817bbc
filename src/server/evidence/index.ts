export { fileEvidenceStore } from './store'
export { dropOldEvidence, putRetention, retention, retentionBody } from './retain'
export { receiveEvidence } from './receive'
export { keepEvidence, missingEvidence, serveEvidence } from './keep'
