export { followingStarts, type Follower, type LeadingStart } from './following'
export { laneOf, lanePieces, lanesOfPlan, withLane, type LanePiece, type Lanes } from './lanes'
export { loadCurve } from './load'
export type { Fix, FixableClash, RotaEntry } from './fixes'
export {
  outlook,
  type Outlook,
  type OutlookAgent,
  type OutlookBasis,
  type OutlookItem,
  type OutlookRotation,
} from './outlook'
export type { BlackoutCalendar, PlannedStart } from './times'
export { variantsOf, type Variant } from './variants'
export { finishOf, paceOf, type EndedPiece, type Finish, type OpenPiece } from './finish'
export { fits, levelOf, pickEnvironments, roleEnvironment, ruleWords, type Picked } from './where'
export { nextMailTime, type MailTime } from './mail-times'
export { whenWords } from './words'
