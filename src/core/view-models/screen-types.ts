import type { Box } from '../execution'

/** Which checks of a screen are accepted: the one, or all of its run that differ in the same way. */
export const ACCEPTED_CHECKS = ['one', 'alike'] as const
export type AcceptedChecks = (typeof ACCEPTED_CHECKS)[number]

/** What holds now for a check; `before`: what held until then. */
export type AcceptedNow = {
  id: number
  caseKey: string
  name: string
  environment: string
  before: number | null
}
/** A screen that holds for a check, or did. */
export type AcceptedLine = {
  id: number
  hash: string
  width: number
  height: number
  ignore: Box[]
  most: number
  acceptedBy: string
  acceptedAt: string
  holds: boolean
}
