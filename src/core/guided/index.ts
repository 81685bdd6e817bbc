export { GUESS_STEP_MS, guessedMs } from './effort'
export { saidOfMachine, withVerdicts, type CarriedOut } from './machine'
export { guidedSteps, type GuidedKind, type GuidedStep, type GuidedValues } from './sheet'
export {
  concluded,
  endBy,
  isJudged,
  logOf,
  standOf,
  type GuidedPicture,
  type GuidedVerdict,
  type GuidedVideo,
  type SaidEnd,
} from './verdicts'
