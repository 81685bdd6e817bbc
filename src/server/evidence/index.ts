export { fileEvidenceStore } from './store'
export { keepEvidence, missingEvidence, serveEvidence } from './keep'
