/** Runs in the page, in browsers that have no finder of their own: what a target points at, and what it looks
 * like there.
 * Bundled by the launcher to build/page.js; everything here is called by its name with plain values. */
import { computeAccessibleName, getRole, isInaccessible } from 'dom-accessibility-api'

type Target = Partial<Record<'testId' | 'role' | 'name' | 'label' | 'placeholder' | 'text' | 'css', string>>

const tidy = (text: string | null | undefined) => (text ?? '').replace(/\s+/g, ' ').trim()
const all = (selector: string) => [...document.querySelectorAll(selector)]
const FIELDS = 'input, select, textarea, button, meter, output, progress, [contenteditable=true]'

/** A label's own words: the choices of a list inside it are not among them. */
function labelText(label: Element): string {
  const copy = label.cloneNode(true) as Element
  copy.querySelectorAll('select, input, textarea, button').forEach((field) => field.remove())
  return tidy(copy.textContent)
}

/** The innermost elements with exactly this text; buttons that are fields by their value. */
function byText(text: string): Element[] {
  const found = all('body *').filter(
    (element) =>
      !['SCRIPT', 'STYLE', 'NOSCRIPT'].includes(element.tagName) &&
      (tidy(element.textContent) === text ||
        (element instanceof HTMLInputElement &&
          ['button', 'submit', 'reset'].includes(element.type) &&
          element.value === text)),
  )
  return found.filter((element) => !found.some((other) => other !== element && element.contains(other)))
}

function byLabel(label: string): Element[] {
  const labelled = all('label')
    .filter((one) => labelText(one) === label)
    .flatMap((one) => ((one as HTMLLabelElement).control ? [(one as HTMLLabelElement).control!] : []))
  const named = all(FIELDS).filter(
    (field) =>
      tidy(field.getAttribute('aria-label')) === label ||
      tidy(
        (field.getAttribute('aria-labelledby') ?? '')
          .split(/\s+/)
          .filter(Boolean)
          .map((id) => document.getElementById(id)?.textContent ?? '')
          .join(' '),
      ) === label,
  )
  return [...new Set<Element>([...labelled, ...named])]
}

const WAYS: Record<string, (target: Target) => Element[]> = {
  testId: ({ testId }) => all(`[data-testid=${JSON.stringify(testId)}]`),
  role: ({ role, name }) =>
    all('body *').filter(
      (element) =>
        getRole(element) === role &&
        !isInaccessible(element) &&
        (name === undefined || tidy(computeAccessibleName(element)) === name),
    ),
  label: ({ label }) => byLabel(label!),
  placeholder: ({ placeholder }) => all(`[placeholder=${JSON.stringify(placeholder)}]`),
  text: ({ text }) => byText(text!),
  css: ({ css }) => all(css!),
}

/** Elements that one way of a target finds in this document. */
export const find = (way: string, target: Target): Element[] => WAYS[way]!(target)
export const count = (way: string, target: Target): number => find(way, target).length

/** Characters of a text that are looked at: a page may have hundreds of megabytes. */
const TEXT_MOST = 200_000
const clip = (text: string) => (text.length > TEXT_MOST ? text.slice(0, TEXT_MOST) : text)

/** The page as it stands now, as HTML; what is beyond `most` characters is counted. */
export function source(most: number): string {
  const html = document.documentElement.outerHTML
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
    ...(document.activeElement === element ? ['focused'] : []),
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

/** What stands over the middle of the element, if anything does. */
export function cover(element: Element): string | null {
  const { x, y, width, height } = element.getBoundingClientRect()
  const top = document.elementFromPoint(x + width / 2, y + height / 2)
  if (!top || element.contains(top) || top.contains(element)) return null
  return top.tagName.toLowerCase() + [...top.classList].map((name) => `.${name}`).join('')
}

export const isInDialog = (element: Element): boolean => element.closest('[role=dialog], dialog') !== null
export function openDialog(): string | null {
  const dialog = document.querySelector('dialog[open], [role=dialog][aria-modal=true]')
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
export const options = (element: Element): { label: string; value: string }[] =>
  [...(element as HTMLSelectElement).options].map(({ label, value }) => ({ label, value }))

const changed = (element: Element) =>
  ['input', 'change'].forEach((type) => element.dispatchEvent(new Event(type, { bubbles: true })))
export function select(element: Element, value: string): void {
  ;(element as HTMLSelectElement).value = value
  changed(element)
}
/** Sets a field's text the way frameworks notice. */
export function fill(element: Element, text: string): void {
  ;(element as HTMLElement).focus()
  const field = element as HTMLInputElement
  const holder =
    field instanceof HTMLTextAreaElement ? HTMLTextAreaElement.prototype : HTMLInputElement.prototype
  Object.getOwnPropertyDescriptor(holder, 'value')!.set!.call(field, text)
  changed(element)
}

const STRIPES =
  'background:repeating-linear-gradient(45deg,#8a8275 0 4px,#b8ae9e 4px 8px)!important;color:transparent!important;caret-color:transparent!important'
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
/** No screen shows even the length of a secret. */
export function hideSecrets(): void {
  if (document.getElementById('oak-hides')) return
  const style = document.createElement('style')
  style.id = 'oak-hides'
  style.textContent = `input[type=password]{${STRIPES}}`
  document.documentElement.append(style)
}

/** Drags as a page sees it, where a driver has no pointer of its own that does. */
export function drag(from: Element, to: Element): void {
  const data = new DataTransfer()
  const at = (element: Element) => ({
    bubbles: true,
    cancelable: true,
    dataTransfer: data,
    clientX: box(element).x + box(element).w / 2,
    clientY: box(element).y + box(element).h / 2,
  })
  from.dispatchEvent(new DragEvent('dragstart', at(from)))
  to.dispatchEvent(new DragEvent('dragover', at(to)))
  to.dispatchEvent(new DragEvent('drop', at(to)))
  from.dispatchEvent(new DragEvent('dragend', at(from)))
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
