/** Runs in the page, in browsers that have no finder of their own: what a target points at, and what it looks
 * like there.
 * Bundled by the launcher to build/page.js; everything here is called by its name with plain values. */
import type { ChoiceList } from '../driver/choices'
import { deepestAt } from './at-point'
import { all, rootOf, roots } from './find'
import { dropFiles } from './dropping'
import { hideEchoes as hideTexts } from './echoes'
import { isInDialog } from './in-dialog'
import { scrollAt } from './scrolling'
import { store, stored } from './storing'

export { cover, hindrance, isAnimated } from './click-ready'
export { count, find, places } from './find'
export { dropFiles, isInDialog, scrollAt, store, stored }
export { factsAt, viewBox } from './facts'
export { chooseOpen, record } from './recording'
export { giveFiles, takeTold } from './telling'
export const scrollPage = (by: number | null): boolean => scrollAt(document.documentElement, by)

/** Characters of a text that are looked at: a page may have hundreds of megabytes. */
const TEXT_MOST = 200_000
const clip = (text: string) => (text.length > TEXT_MOST ? text.slice(0, TEXT_MOST) : text)

/** As HTML, open shadow roots as templates at their hosts (HTML Standard, "declarative shadow roots"). */
function htmlOf(top: Element): string {
  if (!('getHTML' in top)) return (top as Element).outerHTML
  const shadowRoots = roots().filter((root) => root instanceof ShadowRoot)
  const [open, close] = (top.cloneNode(false) as Element).outerHTML.split(/(?=<\/[^<]*$)/)
  return `${open}${top.getHTML({ shadowRoots })}${close ?? ''}`
}

/** The page as it stands now, as HTML; what is beyond `most` characters is counted. */
export function source(most: number): string {
  const html = htmlOf(document.documentElement)
  return html.length > most ? `${html.slice(0, most)}\n… and ${html.length - most} more characters` : html
}

export function read(element: Element) {
  const field = element as HTMLInputElement
  const rect = element.getBoundingClientRect()
  const visible = rect.width > 0 && rect.height > 0 && getComputedStyle(element).visibility !== 'hidden'
  const states = [
    visible ? 'visible' : 'hidden',
    field.disabled ? 'disabled' : 'enabled',
    field.checked ? 'checked' : 'unchecked',
    ...(rootOf(element).activeElement === element ? ['focused'] : []),
  ]
  return {
    text: shown(element, (element as HTMLElement).innerText ?? element.textContent ?? ''),
    value: shown(element, field.value === undefined ? '' : String(field.value)),
    states,
  }
}

export function attribute(element: Element, name: string): string | null {
  const value = element.getAttribute(name)
  if (value === null) return null
  return name === 'value' ? shown(element, value) : clip(value)
}
export const box = (element: Element) => {
  const { x, y, width, height } = element.getBoundingClientRect()
  return { x: Math.round(x), y: Math.round(y), w: Math.round(width), h: Math.round(height) }
}
export const reveal = (element: Element): void =>
  element.scrollIntoView({ block: 'center', inline: 'center', behavior: 'instant' })

/** As a label does with its field. */
export const activate = (element: Element): void => (element as HTMLElement).click()

export function openDialog(): string | null {
  const dialog = all('dialog[open], [role=dialog][aria-modal=true]').find(
    (one) => one.getClientRects().length > 0 && getComputedStyle(one).visibility !== 'hidden',
  )
  return dialog
    ? (
        dialog.getAttribute('aria-label') ??
        dialog.querySelector('h1, h2, h3')?.textContent ??
        'dialog'
      ).trim()
    : null
}

export const kindOf = (element: Element): { tag: string; type: string } => ({
  tag: element.tagName,
  type: element.getAttribute('type') ?? '',
})
export const options = (element: Element): ChoiceList => ({
  several: (element as HTMLSelectElement).multiple,
  options: [...(element as HTMLSelectElement).options].map(({ label, value }) => ({ label, value })),
})

/** All that is to be known before something is chosen: what a list offers; of a tick, whether it lies under
 * what its own label has drawn over it. */
export function choiceOf(element: Element): { list: ChoiceList | null; isUnderItsLabel: boolean } {
  if (element instanceof HTMLSelectElement) return { list: options(element), isUnderItsLabel: false }
  element.scrollIntoView({ block: 'nearest', inline: 'nearest', behavior: 'instant' })
  const { x, y, width, height } = element.getBoundingClientRect()
  const top = deepestAt(x + width / 2, y + height / 2)
  const label = element.closest('label')
  return {
    list: null,
    isUnderItsLabel: label !== null && top !== null && top !== element && label.contains(top),
  }
}

const changed = (element: Element) =>
  ['input', 'change'].forEach((type) => element.dispatchEvent(new Event(type, { bubbles: true })))
export function select(element: Element, values: readonly string[]): void {
  const list = element as HTMLSelectElement
  if (list.multiple) for (const option of list.options) option.selected = values.includes(option.value)
  else list.value = values[0]!
  changed(element)
}
/** Sets a field's text the way frameworks notice; of an editor, as if it was typed over all that is there. */
export function fill(element: Element, text: string): void {
  ;(element as HTMLElement).focus()
  if ((element as HTMLElement).isContentEditable) return fillEditor(element as HTMLElement, text)
  const field = element as HTMLInputElement
  const holder =
    field instanceof HTMLTextAreaElement ? HTMLTextAreaElement.prototype : HTMLInputElement.prototype
  Object.getOwnPropertyDescriptor(holder, 'value')!.set!.call(field, text)
  changed(element)
}

function fillEditor(element: HTMLElement, text: string): void {
  const selection = window.getSelection()!
  selection.selectAllChildren(element)
  // the one way that editors take for typing; they listen to what comes of it
  const done = text === '' ? document.execCommand('delete') : document.execCommand('insertText', false, text)
  if (done) return
  element.textContent = text
  changed(element)
}

const STRIPES =
  'background:repeating-linear-gradient(45deg,#8a8275 0 4px,#b8ae9e 4px ' +
  '8px)!important;color:transparent!important;caret-color:transparent!important'
/** A field that took a secret keeps it: any other text of it may be a part, and is shown to nobody. */
type Field = HTMLElement & { oakHolds?: string | null }
export function hideField(element: Element, secret: string | null): void {
  ;(element as Field).oakHolds = secret
  if (secret !== null) (element as HTMLElement).style.cssText += `;${STRIPES}`
}
function shown(element: Element, text: string): string {
  const { oakHolds: secret } = element as Field
  return secret && text !== '' && text !== secret ? '••••' : clip(text)
}
/** Of the site that the page is of; "null" where it is of none. */
export const origin = (): string => location.origin

/** No screen shows even the length of a secret. */
export function hideSecrets(): void {
  for (const root of roots()) {
    if (root.adoptedStyleSheets.some((sheet) => sheet === hides)) continue
    root.adoptedStyleSheets = [
      ...root.adoptedStyleSheets,
      (hides ??= sheetOf(`input[type=password]{${STRIPES}}`)),
    ]
  }
}
const hidden = new Set<string>()
let hideAgain = () => {}
/** As `hideTexts`; what this document hides already is looked for once more.
 * @returns whether it hid all of them before */
export function hideEchoes(texts: readonly string[], origins: readonly string[]): boolean {
  const fresh = texts.filter((text) => !hidden.has(text))
  for (const text of fresh) hidden.add(text)
  if (fresh.length === 0) hideAgain()
  else hideAgain = hideTexts([...hidden], origins)
  return fresh.length === 0
}
/** It blinks, and no two pictures of a field that is written in would be the same. */
export function hideCaret(): void {
  for (const root of roots()) {
    if (root.adoptedStyleSheets.some((sheet) => sheet === noCaret)) continue
    root.adoptedStyleSheets = [
      ...root.adoptedStyleSheets,
      (noCaret ??= sheetOf('*{caret-color:transparent!important}')),
    ]
  }
}
let noCaret: CSSStyleSheet | undefined
/** No element of the page: its own policy might not let that in, and its scripts would see it. */
let hides: CSSStyleSheet | undefined
function sheetOf(rules: string): CSSStyleSheet {
  const sheet = new CSSStyleSheet()
  sheet.replaceSync(rules)
  return sheet
}

/** Drags what the page says is draggable (HTML, drag and drop) as the page sees it: a pointer that a driver
 * moves begins no such drag in every engine.
 * @returns false where it is not: then the driver moves its pointer */
export function drag(from: Element, to: Element): boolean {
  const source = from.closest('[draggable=true]')
  if (!source) return false
  const data = new DataTransfer()
  const at = (element: Element) => ({
    bubbles: true,
    cancelable: true,
    dataTransfer: data,
    clientX: box(element).x + box(element).w / 2,
    clientY: box(element).y + box(element).h / 2,
  })
  const tell = (element: Element, type: string) => element.dispatchEvent(new DragEvent(type, at(element)))
  if (!tell(source, 'dragstart')) return true
  for (const type of ['dragenter', 'dragover', 'drop']) tell(to, type)
  tell(source, 'dragend')
  return true
}

type Said = { level: string; text: string; at: number }
/** What is asked for seldom is kept within bounds, whatever a page says meanwhile. */
const SAID_MOST = 10_000
const SAID_CHARS = 2000
const said: Said[] = []
let unsaid = 0
function note(level: string, text: string): void {
  if (said.length >= SAID_MOST) unsaid++
  else said.push({ level, text: text.slice(0, SAID_CHARS), at: Date.now() })
}
/** Listens to what this page says from now on. */
export function listen(): void {
  const page = window as unknown as { oakListens?: boolean }
  if (page.oakListens) return
  page.oakListens = true
  const console: Record<string, (...parts: unknown[]) => void> = window.console as never
  for (const level of ['log', 'info', 'warn', 'error'] as const) {
    const own = console[level]!.bind(console)
    console[level] = (...parts: unknown[]) => {
      note(level === 'warn' ? 'warning' : level, said.length >= SAID_MOST ? '' : parts.map(String).join(' '))
      own(...parts)
    }
  }
  window.addEventListener('error', ({ message }) => note('error', message))
}
export const takeSaid = (): Said[] => said.splice(0)
/** How many lines there was no room for since the last call. */
export function takeUnsaid(): number {
  const count = unsaid
  unsaid = 0
  return count
}

type Asked = { url: string; status: number; ms: number; at: number; main: boolean }
let seen = 0
/** Requests this page made, as the browser timed them; each once. */
export function takeRequests(): Asked[] {
  const [navigation] = performance.getEntriesByType('navigation') as PerformanceResourceTiming[]
  const list = [
    ...(navigation ? [navigation] : []),
    ...(performance.getEntriesByType('resource') as PerformanceResourceTiming[]),
  ]
  const fresh = list.slice(seen)
  seen = list.length
  return fresh.map((entry) => ({
    url: entry.name,
    status: (entry as { responseStatus?: number }).responseStatus ?? 0,
    ms: Math.round(entry.duration),
    at: Math.round(performance.timeOrigin + entry.startTime),
    main: entry === navigation,
  }))
}
export const ready = (): boolean => document.readyState === 'complete'
