/** What makes a password too easy to guess. */

/** How long a password is. */
export const PASSWORD_CHARS = { least: 12, most: 128 } as const

/** What is tried first. */
const COMMON = new Set([
  'password1234',
  'passwordpassword',
  '123456789012',
  '012345678901',
  'qwerty123456',
  'qwertyuiop12',
  'letmeinletmein',
  'administrator',
  'oakrotation1',
  'oak-rotation',
  'changemenow1',
  'iloveyou1234',
  'welcome12345',
])

/** Each weakness as a sentence for the person who chose the password. */
export const PASSWORD_WEAKNESSES = {
  short:
    `A password has at least ${PASSWORD_CHARS.least} characters; some words together are easy to ` +
    'keep in mind. Nothing was changed.',
  long: `A password has at most ${PASSWORD_CHARS.most} characters. Nothing was changed.`,
  common: 'This is one of the first that would be tried. Nothing was changed.',
  named: 'A password does not hold your name. Nothing was changed.',
} as const
export type PasswordWeakness = keyof typeof PASSWORD_WEAKNESSES

export const isPasswordWeakness = (word: string | undefined): word is PasswordWeakness =>
  word !== undefined && Object.hasOwn(PASSWORD_WEAKNESSES, word)

/** @returns `undefined` when the password will do */
export function passwordWeakness(
  password: string,
  { name, username }: { name: string; username: string },
): PasswordWeakness | undefined {
  const plain = password.toLowerCase()
  if (password.length < PASSWORD_CHARS.least) return 'short'
  if (password.length > PASSWORD_CHARS.most) return 'long'
  if (COMMON.has(plain) || /^(.)\1+$/.test(plain)) return 'common'
  if (plain.includes(username.toLowerCase()) || plain === name.toLowerCase()) return 'named'
  return undefined
}
