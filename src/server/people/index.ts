export { addPersonWithPassword } from './add'
export { auth } from './auth'
export {
  changeOwnPassword,
  changePerson,
  endOwnSessions,
  invite,
  inviteBody,
  memberChangeBody,
  memberViewModels,
  passwordBody,
  personOfLink,
  resetPerson,
  takeLink,
  welcomeBody,
  youViewModel,
} from './members'
export { checkSecondFactor, confirmWithCode, removeSecondFactor, startSecondFactor } from './second-factor'
export { answerSignIn, answerWelcome, withoutBody } from './form'
export { isSessionOpen } from '@/db/members'
export { dropOldTries } from './sign-in'
export { signIn, signInBody, signOut } from './sign-in'
export {
  hashToken,
  makeToken,
  may,
  personOf,
  requireAgent,
  requirePerson,
  requireReader,
  requireRole,
  requireToken,
  requireTokenText,
  revoke,
  type Person,
} from './access'
