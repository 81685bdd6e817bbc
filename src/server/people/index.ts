export { addPersonWithPassword } from './add'
export { auth } from './auth'
export { hashToken, makeToken, personOf, requireAgent, requirePerson, requireRole, requireToken, requireTokenText, revoke, type Person } from './access'
