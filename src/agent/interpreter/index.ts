export { Gate } from './gate'
export { runAttempt, type AttemptPorts } from './attempt'
export { type Meet, type Meeting, type MeetingAnswer } from './rendezvous'
export { type Piece, type Sink } from './log'
