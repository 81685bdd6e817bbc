export { EarlierScreens, keyOfWay, type ScreenSeen } from './earlier'
export { FACT_WAYS, isTick, sameElement, takesText, type ElementFacts, type FactWay } from './facts'
export { offeredGenerators, type OfferedGenerator } from './generated'
export {
  LIVE_LIMIT_MOST,
  placeForLive,
  STANDARD_LIVE_LIMITS,
  type LiveLimits,
  type LivePlace,
} from './limits'
export { offeredNames, parameterName, withNamed, withWritten, writtenIn } from './offers'
export { PART_OF_SCREEN, proposedChecks, stepsBefore, type Proposal } from './proposals'
export { stepsOfRecording, type RecordedEvent, type RecordedStep, type Unready } from './recording'
export { offeredRoutine, type KnownRoutine, type OfferedRoutine } from './routines'
export { looksGenerated, targetOf, waysOf } from './target'
export {
  DIALOG_KINDS,
  FRAME_HEAD,
  frameOf,
  KEY_DOINGS,
  MOUSE_DOINGS,
  readFrame,
  VERDICTS,
  type AskedDialog,
  type Held,
  type LiveDoing,
  type LiveList,
  type LiveNotice,
  type LiveOrder,
  type LiveRequest,
  type LiveWindow,
  type LiveWord,
  type PersonsVerdict,
  type PlacedStop,
  type Stop,
} from './messages'
