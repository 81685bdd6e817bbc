/** Brings what an agent says into the form the server takes (docs/agent-protocol.md): storable, and no text
 * without end. */
import { mapTexts, storable } from '@/core/model'

/** Characters of one text; what is beyond is said to be there. */
export const TEXT_MOST = 20_000
const NESTING_MOST = 20

/** Any JSON value with its texts made storable and clipped. */
export const fitting = <T>(value: T): T =>
  mapTexts(value, (text) => clipped(storable(text)), { name: storable, nestingMost: NESTING_MOST })

/** As long as a text may be; its end says how much is missing. */
function clipped(text: string): string {
  if (text.length <= TEXT_MOST) return text
  const said = (missing: number) => `… and ${missing.toLocaleString('en')} more characters`
  const kept = TEXT_MOST - said(text.length).length
  return storable(text.slice(0, kept)) + said(text.length - kept)
}
