export { sealAudit, verifyAudit, auditHead, type Verified } from './chain'
export { auditCsv, auditFilter, auditWindow } from './read'
