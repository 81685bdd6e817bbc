export { Gate } from './gate'
export type { GivenFile } from './jobs'
export { threadedWork, workHere, type WorkPool } from './pool'
