/** Runs in the page, in browsers that have nothing to call out of it by: what a person does there is kept
 * until the driver asks for it. */
import { filesHeld, type FileInPage } from './dropping'
import { record, type Told } from './recording'

/** Said and not asked for yet; more is no person. */
const TOLD_MOST = 500
/** Takes what was said last over to the next page of the same origin: a click that leads there is over before
 * anybody asks. */
const CARRIED = 'oak-told'

const told: string[] = []
let begun = false
/** The field that asks for files. */
let asks: HTMLInputElement | undefined

/** What was said since the last time; from the first time on it is listened. @returns JSON of `Told` each */
export function takeTold(): string[] {
  if (!begun) begin()
  return told.splice(0)
}

function begin(): void {
  begun = true
  told.push(...carried())
  record((one) => {
    if (told.length < TOLD_MOST) told.push(one)
  })
  // Its own choice of files would stand outside of the page, where nobody reaches it.
  document.addEventListener(
    'click',
    (event) => {
      const [field] = event.composedPath()
      if (!event.isTrusted || !(field instanceof HTMLInputElement) || field.type !== 'file') return
      event.preventDefault()
      asks = field
      told.push(JSON.stringify({ files: { several: field.multiple } } satisfies Told))
    },
    { capture: true },
  )
  addEventListener('pagehide', () => {
    if (told.length === 0) return
    try {
      sessionStorage.setItem(CARRIED, JSON.stringify(told))
    } catch {
      // a page without storage: what was said last is lost
    }
  })
}

function carried(): string[] {
  try {
    const kept = sessionStorage.getItem(CARRIED)
    sessionStorage.removeItem(CARRIED)
    const said = kept === null ? [] : (JSON.parse(kept) as unknown)
    const known = Array.isArray(said) ? said.filter((one) => typeof one === 'string') : []
    return known.slice(0, TOLD_MOST).map((one) => JSON.stringify({ ...JSON.parse(one), carried: true }))
  } catch {
    return []
  }
}

/** To the field that asked last. @returns whether any did */
export function giveFiles(files: readonly FileInPage[]): boolean {
  const field = asks
  asks = undefined
  if (!field || files.length === 0) return false
  field.files = filesHeld(files).files
  for (const type of ['input', 'change']) field.dispatchEvent(new Event(type, { bubbles: true }))
  return true
}
