import { describeTarget, type Target } from '@/core/model'
import { DriverFault } from './port'

/** Files go into fields for files, and on what takes them when they are dropped. */
export const takesNoFiles = (target: Target) =>
  new DriverFault(
    'target',
    `${describeTarget(target)} is neither a field for files nor takes files that are dropped on it`,
  )
