/** What looks at pictures of screens, and what it says of them. */
import type { Target } from '@/core/model'
import type { AcceptedScreen, Box } from '@/core/execution'
import type { Difference, Found, ReadWord } from '@/core/vision'

export type Eyes = {
  /** Words with their places, in pixels of a picture of this width. @throws {DriverFault} */
  read(picture: Uint8Array): Promise<WordsSeen>
  /** Where a patch is on it, the same way. @throws {DriverFault} */
  find(picture: Uint8Array, patch: Uint8Array): Promise<PatchesSeen>
  /** How it, or a part of it, compares with one that was accepted. @throws {DriverFault} */
  compare(picture: Uint8Array, how: Comparing): Promise<ComparedPicture>
}
export type WordsSeen = { words: ReadWord[]; width: number }
export type PatchesSeen = { places: Found[]; width: number }

/** What to do with a picture: read its words, find a patch on it, or compare it. */
export type Looking =
  | { do: 'read'; picture: Uint8Array }
  | { do: 'find'; picture: Uint8Array; patch: Uint8Array }
  | { do: 'compare'; picture: Uint8Array; how: Comparing }

/** What a check of a screen looks at. */
export type ScreenWanted = { of?: Target; ignore: readonly Target[]; accepted?: AcceptedScreen }

/** What a picture is compared with. `pageWidth`: of the picture, in the units of the boxes. */
export type Comparing = {
  pageWidth: number
  part?: Box
  ignore: readonly Box[]
  accepted?: { png: Uint8Array; ignore: readonly Box[] }
  isLossy: boolean
}
/** The part as PNG; boxes that were not looked at, in its pixels; and how it differs. */
export type ComparedPicture = {
  png: Uint8Array
  width: number
  height: number
  ignore: Box[]
  difference?: Difference
}
