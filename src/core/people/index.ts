export { isUsername, lookOf, nameProblem, USERNAME_MOST } from './names'
export {
  isPasswordWeakness,
  PASSWORD_CHARS,
  PASSWORD_WEAKNESSES,
  passwordWeakness,
  type PasswordWeakness,
} from './passwords'
export { FORGOTTEN_MS, WAIT_MOST_MS, waitAfter, waitInWords, waitLeft, type TryCounts } from './tries'
export { wayBack } from './way-back'
