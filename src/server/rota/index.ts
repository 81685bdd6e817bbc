export { blackoutCalendars, calendarsBody, putBlackoutCalendars } from './calendars'
export { startDue, type Started } from './due'
export { rotationStartBody, startRotation, type RotationStart } from './start'
