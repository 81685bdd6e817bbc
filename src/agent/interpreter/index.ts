export { Gate } from './gate'
export { runAttempt, type AttemptPorts } from './attempt'
export { type Meet, type Meeting, type MeetingAnswer } from './company'
export { type Piece, type Sink } from './log'
