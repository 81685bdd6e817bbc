/** The encoding of a text file, by its first bytes: a byte order mark, or what an XML declaration says. UTF-8
 * otherwise.
 * @returns a label that `TextDecoder` understands */
export function encodingOf(first: Uint8Array): string {
  if (first[0] === 0xff && first[1] === 0xfe) return 'utf-16le'
  if (first[0] === 0xfe && first[1] === 0xff) return 'utf-16be'
  const start = String.fromCharCode(...first.slice(0, 200))
  const said = /^\s*<\?xml[^>]*\bencoding\s*=\s*["']([A-Za-z0-9._-]+)["']/.exec(start)?.[1]?.toLowerCase()
  return said && KNOWN.has(said) ? said : 'utf-8'
}
const KNOWN = new Set([
  'utf-8',
  'utf8',
  'iso-8859-1',
  'latin1',
  'windows-1252',
  'iso-8859-15',
  'us-ascii',
  'iso-8859-2',
  'windows-1250',
  'windows-1251',
  'shift_jis',
  'euc-jp',
  'gbk',
  'big5',
])
