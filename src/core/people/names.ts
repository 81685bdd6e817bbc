/** What people are known by. */

export const USERNAME_MOST = 31
const USERNAME = /^[a-z0-9][a-z0-9._-]{1,30}$/
const NAME_CHARS = 80

/** Who else is named in the audit trail and on runs: a person of that name would be taken for them. */
const TAKEN = [
  'start',
  'administrator',
  'admin',
  'oak rotation',
  'a signed message',
  'the rota',
  'schedule',
  'system',
  'root',
  'nobody',
  'somebody',
  'ci',
  'agent',
  'worker',
]

/** Letters that look like others, folded into them (Unicode TR 39, the few that names are made of). */
const LOOKALIKES: Record<string, string> = {
  а: 'a',
  е: 'e',
  о: 'o',
  р: 'p',
  с: 'c',
  х: 'x',
  у: 'y',
  і: 'i',
  ј: 'j',
  ѕ: 's',
  һ: 'h',
  ԁ: 'd',
  ɡ: 'g',
  ո: 'n',
  υ: 'u',
  ν: 'v',
  ο: 'o',
  ρ: 'p',
  α: 'a',
  ι: 'i',
  κ: 'k',
  τ: 't',
  '0': 'o',
  '1': 'l',
  ı: 'i',
  ⅼ: 'l',
  ʟ: 'l',
}

/** Two names with the same look are the same name. */
export function lookOf(name: string): string {
  const folded = name
    .normalize('NFKD')
    .replace(/\p{M}|\p{Cf}/gu, '')
    .toLowerCase()
  const letters = Array.from(folded, (letter) => LOOKALIKES[letter] ?? letter).join('')
  return letters.replace(/[\s._-]+/gu, ' ').trim()
}

/** Small letters, digits, dots, dashes and _. */
export const isUsername = (username: string): boolean => USERNAME.test(username)

/** @param known names and usernames of others
 * @returns why a person cannot be called so, as a sentence; `undefined` when they can */
export function nameProblem(
  { name, username }: { name: string; username: string },
  known: readonly { name: string; username: string }[],
): string | undefined {
  if (!isUsername(username))
    return (
      'The name to sign in with is small letters, digits, dots, dashes and _, 2 to 31 of them, ' +
      'beginning with a letter or digit.'
    )
  if (name.trim() === '' || name.length > NAME_CHARS) return `A name has 1 to ${NAME_CHARS} characters.`
  if (/[\p{Cc}\p{Cf}\p{Co}\p{Cs}<>"]/u.test(name))
    return 'A name has no control characters, quotes or angle brackets.'
  const looks = [lookOf(name), lookOf(username)]
  const others = known.flatMap((other) => [lookOf(other.name), lookOf(other.username)])
  if (looks.some((look) => others.includes(look)))
    return `“${name}” or “${username}” is, or looks like, what somebody else here is known by.`
  if (looks.some((look) => TAKEN.includes(look)))
    return `“${name}” is what the product itself is named by in the audit trail.`
  return undefined
}
