import { SOURCE_MOST } from './port'

/** The source of a page with that of its frames behind it, each under a line that says so. A frame that goes
 * away meanwhile is left out.
 * @param read reads each document, the page's own first */
export async function sourceOfFrames(read: readonly (() => Promise<string>)[]): Promise<string> {
  const [page, ...frames] = read
  if (!page) return ''
  let text = await page()
  for (const [i, frame] of frames.entries()) {
    if (text.length >= SOURCE_MOST) break
    const inner = await frame().catch(() => undefined)
    if (inner !== undefined) text += `\n<!-- frame ${i + 1} of the page -->\n${inner}`
  }
  return text.length > SOURCE_MOST
    ? `${text.slice(0, SOURCE_MOST)}\n… and ${text.length - SOURCE_MOST} more characters`
    : text
}
