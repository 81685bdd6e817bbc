/** Where to go after signing in: a place of ours, whatever was asked for. Browsers take tabs and backslashes
 * out, or for slashes;
 * so the address is parsed as they do (URL Standard), and what leads elsewhere leads to the beginning. */
const HERE = 'http://here.invalid'

export function wayBack(asked: string | undefined | null): string {
  if (!asked || !URL.canParse(asked, HERE)) return '/'
  const { origin, pathname, search, hash } = new URL(asked, HERE)
  const isHere =
    origin === HERE &&
    !pathname.startsWith('//') &&
    !pathname.startsWith('/api/') &&
    !pathname.startsWith('/sign-in')
  return isHere ? pathname + search + hash : '/'
}
