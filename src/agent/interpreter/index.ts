export { Gate } from './gate'
export { runAttempt, type AttemptPorts } from './attempt'
export { type Piece, type Sink } from './log'
