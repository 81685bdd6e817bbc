/** Runs in the page: what is known of an element that a person pointed at. */
import { computeAccessibleName, getRole } from 'dom-accessibility-api'
import type { Box } from '@/core/execution'
import { targetOf, type ElementFacts, type FactWay } from '@/core/live'
import { askWhatShows } from './shown-by'
import { deepestAt } from './at-point'
import { find, rootOf } from './find'

/** What a click in it means: the button, not the picture on it. */
export const MEANT =
  'button, a[href], input, select, textarea, summary, option, [role=button], [role=link], ' +
  '[role=tab], [role=menuitem], [role=option], [role=checkbox], [role=switch], [role=radio], ' +
  '[contenteditable=""], [contenteditable=true]'
/** A longer text is told from others by how it begins, and a name of so many characters is none. */
const TEXT_MOST = 300
export const NAME_MOST = 120
/** Roles are computed one by one: on a larger page that takes too long for each click. */
const ELEMENTS_MOST = 20_000
/** Says where it stands, and nothing about what it is. */
const DUMB_ROLES = new Set(['generic', 'presentation', 'none', 'paragraph', 'text', 'document', 'group'])

/** Attributes that say how something is. */
const TELLING = [
  'aria-current',
  'aria-expanded',
  'aria-invalid',
  'aria-pressed',
  'aria-selected',
  'alt',
  'title',
]

export const tidy = (text: string | null | undefined): string => (text ?? '').replace(/\s+/g, ' ').trim()

export const meantBy = (element: Element): Element => element.closest(MEANT) ?? element
/** Accessible name. */
export const nameOf = (element: Element): string => tidy(computeAccessibleName(element))

export const labelOf = (element: Element): string => {
  const [label] = (element as HTMLInputElement).labels ?? []
  if (!label) return tidy(element.getAttribute('aria-label'))
  const copy = label.cloneNode(true) as Element
  for (const inner of copy.querySelectorAll('select, input, textarea, button')) inner.remove()
  return tidy(copy.textContent)
}

/** By its id, by the name a form gives it, or by what its form or its link is for. */
export function cssOf(element: Element): string | undefined {
  const tag = element.tagName.toLowerCase()
  if (element.id !== '') return `#${CSS.escape(element.id)}`
  const name = element.getAttribute('name')
  if (name && ['input', 'select', 'textarea', 'button'].includes(tag)) {
    const value =
      element.getAttribute('type') === 'radio'
        ? `[value=${JSON.stringify(element.getAttribute('value') ?? '')}]`
        : ''
    return `${tag}[name=${JSON.stringify(name)}]${value}`
  }
  return byPurpose(element, tag)
}

/** The end of an address is what it is for; its beginning is where the page was put today. */
const LAST_PART = /\/([a-z][a-z-]{2,40})$/

function byPurpose(element: Element, tag: string): string | undefined {
  if (tag === 'a') {
    const [end] = LAST_PART.exec(element.getAttribute('href') ?? '') ?? []
    return end && `a[href$=${JSON.stringify(end)}]`
  }
  const form = tag === 'button' ? element.closest('form') : null
  if (!form) return undefined
  const [end] = LAST_PART.exec(form.getAttribute('action') ?? '') ?? []
  if (end) return `form[action$=${JSON.stringify(end)}] button`
  const field = form.querySelector('input[name]:not([type=hidden]), select[name], textarea[name]')
  return field ? `form:has([name=${JSON.stringify(field.getAttribute('name'))}]) button` : undefined
}

function valueOf(element: Element): string {
  if (element instanceof HTMLSelectElement) return tidy(element.selectedOptions[0]?.label)
  if (element instanceof HTMLInputElement || element instanceof HTMLTextAreaElement) return element.value
  return tidy((element as HTMLElement).innerText ?? element.textContent)
}

const isSecret = (element: Element): boolean =>
  element.getAttribute('type') === 'password' ||
  typeof (element as { oakHolds?: string | null }).oakHolds === 'string'

export function factsOf(element: Element): ElementFacts {
  const tag = element.tagName.toLowerCase()
  const type = element instanceof HTMLInputElement ? element.type : undefined
  const isField = ['input', 'select', 'textarea'].includes(tag)
  const isSmall = document.getElementsByTagName('*').length <= ELEMENTS_MOST
  const role = isSmall ? getRole(element) : null
  const said: Partial<ElementFacts> = {
    ...(role !== null &&
      !DUMB_ROLES.has(role) && { role, name: tidy(computeAccessibleName(element)).slice(0, NAME_MOST) }),
    ...(labelOf(element) !== '' && { label: labelOf(element).slice(0, NAME_MOST) }),
    ...present('placeholder', element.getAttribute('placeholder')),
    ...present('testId', element.getAttribute('data-testid')),
    ...present('css', cssOf(element)),
  }
  const text = isField ? '' : valueOf(element)
  if (text !== '' && text.length <= NAME_MOST) said.text = text
  const secret = isSecret(element)
  const value = secret ? '' : valueOf(element).slice(0, TEXT_MOST)
  const { x, y, width, height } = element.getBoundingClientRect()
  const facts: ElementFacts = {
    tag,
    ...(type !== undefined && { type }),
    ...said,
    counts: {},
    value,
    ...(element instanceof HTMLInputElement && { checked: element.checked }),
    ...(element instanceof HTMLAnchorElement && present('href', element.getAttribute('href'))),
    ...(secret && { secret }),
    ...(suggests(element) && { suggests: true }),
    box: { x: Math.round(x), y: Math.round(y), w: Math.round(width), h: Math.round(height) },
  }
  return { ...facts, ...counted(element, facts) }
}

const present = <K extends string>(name: K, value: string | null | undefined) =>
  (value ? { [name]: value } : {}) as { [P in K]?: string }

/** How many elements each way finds; a way that finds others and not this one does not count. */
function counted(element: Element, facts: ElementFacts): Pick<ElementFacts, 'counts' | 'place'> {
  const counts: ElementFacts['counts'] = {}
  let place: number | undefined
  for (const way of ['testId', 'role', 'label', 'placeholder', 'text', 'css'] satisfies FactWay[]) {
    const written = facts[way]
    if (written === undefined) continue
    const target =
      way === 'role' ? { role: written, ...(facts.name && { name: facts.name }) } : { [way]: written }
    const found = find(way, target)
    if (!found.includes(element)) continue
    counts[way] = found.length
    if (way === 'role' && found.length > 1) place = found.indexOf(element) + 1
  }
  return { counts, ...(place !== undefined && { place }) }
}

const suggests = (element: Element): boolean =>
  element.hasAttribute('list') ||
  element.getAttribute('role') === 'combobox' ||
  ['list', 'both'].includes(element.getAttribute('aria-autocomplete') ?? '')

/** Of what a person points at there, or of what is around a part of the view; of what is in a frame, the
 * frame: its own document knows more.
 * @returns `null`: nothing is there */
export function factsAt(x: number, y: number, w = 0, h = 0): ElementFacts | null {
  let element = deepestAt(x + w / 2, y + h / 2)
  while (element && element.ownerDocument !== document)
    element = element.ownerDocument.defaultView?.frameElement ?? null
  if (!element || !rootOf(element)) return null
  return factsOfPicked(w > 0 && h > 0 ? around(element, { x, y, w, h }) : meantBy(element))
}

/** Further out nothing is about the part any more. */
const OUTWARDS_MOST = 4

/** The innermost element that has all of a part of the view in it, or the next one out that can be found. */
function around(inner: Element, part: Box): Element {
  const outside = (element: Element) => element.parentElement ?? (rootOf(element) as ShadowRoot).host
  const hasAll = (element: Element) => {
    const { left, top, right, bottom } = element.getBoundingClientRect()
    return left <= part.x && top <= part.y && right >= part.x + part.w && bottom >= part.y + part.h
  }
  let element = inner
  while (!hasAll(element) && outside(element)) element = outside(element)
  let found = element
  for (let i = 0; i < OUTWARDS_MOST && outside(found); i++, found = outside(found))
    if (targetOf(factsOf(found))) return found
  return element
}

/** What a check may be about, besides what tells it from others. */
function factsOfPicked(element: Element): ElementFacts {
  const attributes = TELLING.flatMap((name) => {
    const value = element.getAttribute(name)
    return value ? [[name, value.slice(0, TEXT_MOST)]] : []
  })
  const one =
    element.closest('li, tr, article, option, [role=listitem], [role=row], [role=option]') ?? element
  const facts = factsOf(element)
  const shownBy = askWhatShows(element)
  const isSmall = document.getElementsByTagName('*').length <= ELEMENTS_MOST
  const role = isSmall ? getRole(one) : null
  const count = role === null || DUMB_ROLES.has(role) ? 0 : find('role', { role }).length
  return {
    ...facts,
    ...(shownBy && { shownBy }),
    ...('disabled' in element && { disabled: element.disabled === true }),
    ...(attributes.length > 0 && { attributes: Object.fromEntries(attributes) as Record<string, string> }),
    ...(role !== null && count > 0 && { alike: { role, count } }),
  }
}

/** The view of this document: where its content begins in it, and how large it is. */
export function viewBox(): Box {
  const { x, y } = document.documentElement.getBoundingClientRect()
  return { x, y, w: window.innerWidth, h: window.innerHeight }
}
