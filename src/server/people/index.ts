export { addPersonWithPassword } from './add'
export { auth } from './auth'
export { hashToken, makeToken, personOf, requireAgent, requirePerson, requireRole, requireToken, revoke, type Person } from './access'
