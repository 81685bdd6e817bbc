export { FACT_WAYS, isTick, sameElement, takesText, type ElementFacts, type FactWay } from './facts'
export { offeredGenerators, type OfferedGenerator } from './generated'
export { offeredNames, parameterName, withWritten, writtenIn } from './offers'
export { proposedChecks, type Proposal } from './proposals'
export { stepsOfRecording, type RecordedEvent, type RecordedStep } from './recording'
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
  type LiveDoing,
  type LiveList,
  type LiveNotice,
  type LiveOrder,
  type LiveRequest,
  type LiveWindow,
  type LiveWord,
  type PersonsVerdict,
} from './messages'
