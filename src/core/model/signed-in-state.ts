/** Who is signed in, as a browser keeps it: handed on from one case to another, whatever the engine. */
export const SIGNED_IN_DOINGS = ['keep', 'take'] as const

/** As WebDriver writes a cookie (w3.org/TR/webdriver2, serialized cookie). `expires`: seconds since 1970. */
export type Cookie = {
  name: string
  value: string
  domain: string
  path: string
  expires?: number
  secure: boolean
  httpOnly: boolean
  sameSite?: 'Strict' | 'Lax' | 'None'
}
/** What pages of one origin keep (HTML Standard, web storage). */
export type Stored = { local: Record<string, string>; session: Record<string, string> }
export type SignedInState = { cookies: Cookie[]; origin: string; stored: Stored }

/** Characters of such a state: more is no sign-in any more. */
export const STATE_CHARS = 200_000
const MARK = 'signed-in:'
/** Values that are shorter are no secrets: "1", "dark", "en-GB". */
const SECRET_CHARS = 16

/** As the value of a handoff. */
export const writeSignedIn = (state: SignedInState): string => MARK + JSON.stringify(state)
export const isSignedIn = (value: string): boolean => value.startsWith(MARK)
/** @returns `undefined` when the value is another, or broken */
export function readSignedIn(value: string): SignedInState | undefined {
  if (!isSignedIn(value)) return undefined
  try {
    const state = JSON.parse(value.slice(MARK.length)) as SignedInState
    const isWhole =
      Array.isArray(state.cookies) &&
      /^https?:$/.test(new URL(state.origin).protocol) &&
      [state.stored.local, state.stored.session].every((values) => typeof values === 'object')
    return isWhole ? state : undefined
  } catch {
    return undefined
  }
}

/** Values in it that nobody should read. */
export const secretsOfSignedIn = ({ cookies, stored }: SignedInState): string[] =>
  [
    ...cookies.map(({ value }) => value),
    ...Object.values(stored.local),
    ...Object.values(stored.session),
  ].filter((value) => value.length >= SECRET_CHARS)

/** "2 cookies and 1 stored value of http://…" */
export function describeSignedIn({ cookies, origin, stored }: SignedInState): string {
  const values = Object.keys(stored.local).length + Object.keys(stored.session).length
  const count = (n: number, one: string) => `${n} ${n === 1 ? one : `${one}s`}`
  return `${count(cookies.length, 'cookie')} and ${count(values, 'stored value')} of ${origin}`
}
