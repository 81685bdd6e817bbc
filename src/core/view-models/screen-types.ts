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
/** A screen on which a text was found. */
export type FoundScreen = {
  hash: string
  attemptId: string
  /** Of the case. */
  title: string
  environment: string
  build: string
  at: string
  /** In pixels of the picture. */
  boxes: Box[]
}
export type FoundScreens = {
  found: FoundScreen[]
  /** Screens that were looked at, that are still being read, and that were too many. */
  looked: number
  unread: number
  left: number
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
