/** Why git could not do something, in words of ours: its own are for who types commands. */

const REASONS: readonly [what: RegExp, why: string | ((found: RegExpExecArray) => string)][] = [
  [
    /could not read (Username|Password)|Authentication failed|terminal prompts disabled|error: 40[13]\b/,
    'it does not let us in: a token that may read it is missing, or is not the right one',
  ],
  [
    /Permission denied \(|Load key .*: /,
    'it does not let us in: a private key that may read it is missing, or is not the right one',
  ],
  [
    /Host key verification failed|REMOTE HOST IDENTIFICATION HAS CHANGED/,
    'the machine at its address has another key than before. If that is as it should be, remove the ' +
      'repository and add it again',
  ],
  [/couldn't find remote ref (\S+)/, ([, branch]) => `it has no branch “${branch}”`],
  [
    /[Rr]epository '?[^\n]*not found|does not appear to be a git repository|error: 404\b/,
    'there is no repository at its address, or it does not let us in',
  ],
  [/Could not resolve host(?:name)?:? ([^\s:]+)/, ([, host]) => `the name “${host}” is not known`],
  [/Connection refused|Failed to connect|Couldn't connect/, 'nobody answers at its address'],
  [/timed out|block timeout/, 'no answer came in time'],
  [/unable to access .*: (.+)/, ([, why]) => `its address cannot be reached (${why})`],
]

/** A part of a sentence, without its end. */
export function reasonOf(error: unknown): string {
  const text = (error as Error).message
  for (const [what, why] of REASONS) {
    const found = what.exec(text)
    if (found) return typeof why === 'string' ? why : why(found)
  }
  return (
    text
      .trim()
      .split('\n')
      .at(-1)
      ?.replace(/^fatal: /, '')
      .replace(/\.$/, '') ?? 'unknown'
  )
}
