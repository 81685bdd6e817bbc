/** HTML of reports: whatever stands in it is text, and nothing in it runs. */

/** A piece of HTML that was made here. */
export class Html {
  constructor(readonly text: string) {}
}

const SIGNS: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' }
const escaped = (text: string) => text.replace(/[&<>"']/g, (sign) => SIGNS[sign]!)

type Part = Html | string | number | false | null | undefined | readonly Part[]

/** What stands in `${…}` is text, unless it was made by `html` too; what is false or absent is nothing. */
export const html = (strings: TemplateStringsArray, ...parts: readonly Part[]): Html =>
  new Html(strings.map((string, i) => string + (i < parts.length ? written(parts[i]) : '')).join(''))

function written(part: Part): string {
  if (part === false || part === null || part === undefined) return ''
  if (part instanceof Html) return part.text
  if (typeof part === 'string' || typeof part === 'number') return escaped(String(part))
  return part.map(written).join('')
}
