export { claimWork } from './claim'
export {
  CLOCK_OFF_MS,
  drainAgent,
  editAgent,
  forgetAgent,
  pauseAgents,
  registerAgent,
  heartbeat,
  type HeartbeatAnswer,
} from './agents'
export { ingestEvents, requireHeld } from './ingest'
export type { Hold } from '@/db/dispatch'
export { finishAttempt, endOverdue, endUnreported, expireLeases, wakeStalled } from './finish'
export { meet, type Meeting, type MeetingAnswer } from './joint'
export { injectFault, injectFaultBody } from './inject-fault'
export { agentBodies } from './bodies'
