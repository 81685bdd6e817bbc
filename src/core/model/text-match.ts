/** How a text on a page is compared with the one that a target names. Also part of what runs in pages. */

/** `whole`: the same text. `part`: somewhere in it. `pattern`: the same, where `*` stands for any text. White
 * space counts as one space, and that around the text not at all; letters have to have the same case. */
export const TEXT_MATCHES = ['whole', 'part', 'pattern'] as const
export type TextMatch = (typeof TEXT_MATCHES)[number]

export function fitsText(actual: string, wanted: string, match: TextMatch = 'whole'): boolean {
  const [text, sought] = [folded(actual), folded(wanted)]
  if (match === 'part') return text.includes(sought)
  return match === 'pattern' ? fitsPattern(text, sought.split('*')) : text === sought
}

/** Looks for each piece behind the one before, once: a pattern of anybody's takes no time worth a limit. */
function fitsPattern(text: string, [first = '', ...rest]: string[]): boolean {
  const last = rest.pop()
  if (last === undefined) return text === first
  if (!text.startsWith(first)) return false
  let at = first.length
  for (const piece of rest) {
    const found = text.indexOf(piece, at)
    if (found < 0) return false
    at = found + piece.length
  }
  return text.length - last.length >= at && text.endsWith(last)
}

const folded = (text: string) => text.replace(/\s+/g, ' ').trim()
