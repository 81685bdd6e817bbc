/** Where cases are carried out. */

export type Environment = {
  key: string
  title: string
  browser: string
  /** Of the browser; absent: whatever is there. */
  version?: string
  os: string
  /** A machine with a screen and keys; a handset made up on one; a real handset. */
  kind?: 'desktop' | 'emulated' | 'device'
  /** Other keys it goes by in rotations and agents. */
  aliases?: string[]
  /** CSS pixels. */
  width: number
  height: number
  locale: string
  simulated: boolean
  /** What the browser says it is; absent: what the real engine says. */
  userAgent?: string
} & Conditions

/** What pages are told of the place and the person, beside the locale. */
export type Conditions = {
  /** By its name in the IANA database; absent: that of the agent's machine. */
  timeZone?: string
  /** What pages ask for by `prefers-color-scheme`. */
  colours?: 'light' | 'dark'
  /** In degrees; pages that ask are allowed to know it. */
  location?: { latitude: number; longitude: number }
  /** Pages that ask are given a camera and a microphone, which are made up. */
  camera?: boolean
}
