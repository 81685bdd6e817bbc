/** Runs in the page, in browsers that have no finder of their own: what a target points at. */
import { computeAccessibleName, getRole, isInaccessible } from 'dom-accessibility-api'
import { fitsText, type TextMatch } from '@/core/model/text-match'
import { deepestAt } from './at-point'
import { placesOf } from './places'

type Way = 'testId' | 'role' | 'label' | 'placeholder' | 'text' | 'css' | 'spot'
type Target = Partial<Record<Exclude<Way, 'spot'> | 'name', string>> & {
  spot?: { x: number; y: number }
  match?: TextMatch
  within?: Target
  beside?: Target
  under?: Target
  number?: number
}

const tidy = (text: string | null | undefined) => (text ?? '').replace(/\s+/g, ' ').trim()
type Root = Document | ShadowRoot

/** The document, and every open shadow root in it. */
export function roots(): Root[] {
  const found: Root[] = [document]
  for (let i = 0; i < found.length; i++)
    for (const element of found[i]!.querySelectorAll('*'))
      if (element.shadowRoot) found.push(element.shadowRoot)
  return found
}
export const all = (selector: string): Element[] =>
  roots().flatMap((root) => [...root.querySelectorAll(selector)])
/** Everything that may be seen. */
const everything = (): Element[] =>
  roots().flatMap((root) => [...root.querySelectorAll(root === document ? 'body *' : '*')])
export const rootOf = (element: Element) => element.getRootNode() as Root

/** Whether one element is in the other, or the same, whatever shadow roots are between. */
export function holds(outer: Element, inner: Element): boolean {
  for (let node: Node | null = inner; node; node = node.parentNode ?? (node as ShadowRoot).host ?? null)
    if (node === outer) return true
  return false
}
/** A label's own words, also those that a web component shows in it: the choices of a list inside it are not
 * among them. */
const labelText = (label: Element): string => tidy(wordsIn(label))
function wordsIn(node: Node): string {
  if (node instanceof Text) return node.data
  if (!(node instanceof Element) || node.matches('select, input, textarea, button')) return ''
  const shown = node instanceof HTMLSlotElement ? node.assignedNodes({ flatten: true }) : []
  return (shown.length > 0 ? shown : [...node.childNodes]).map(wordsIn).join('')
}

/** The innermost elements with this text; buttons that are fields by their value. */
function byText({ text, match }: Target): Element[] {
  const found = everything().filter(
    (element) =>
      !['SCRIPT', 'STYLE', 'NOSCRIPT'].includes(element.tagName) &&
      (fitsText(element.textContent ?? '', text!, match) ||
        (element instanceof HTMLInputElement &&
          ['button', 'submit', 'reset'].includes(element.type) &&
          fitsText(element.value, text!, match))),
  )
  const outer = new Set<Element>()
  for (const element of found)
    for (let above = element.parentElement; above && !outer.has(above); above = above.parentElement)
      outer.add(above)
  return found.filter((element) => !outer.has(element))
}

function byLabel({ label, match }: Target): Element[] {
  const fits = (text: string | null) => text !== null && fitsText(text, label!, match)
  const labelled = all('label')
    .filter((one) => fits(labelText(one)))
    .flatMap((one) => ((one as HTMLLabelElement).control ? [(one as HTMLLabelElement).control!] : []))
  const named = all('[aria-label], [aria-labelledby]').filter(
    (field) =>
      fits(field.getAttribute('aria-label')) ||
      fits(
        (field.getAttribute('aria-labelledby') ?? '')
          .split(/\s+/)
          .filter(Boolean)
          .map((id) => rootOf(field).getElementById(id)?.textContent ?? '')
          .join(' '),
      ),
  )
  return [...new Set<Element>([...labelled, ...named])]
}

/** In the order in which the ways of a target are tried. */
const WAYS: Record<Way, (target: Target) => Element[]> = {
  testId: ({ testId }) => all(`[data-testid=${JSON.stringify(testId)}]`),
  role: ({ role, name, match }) =>
    everything().filter(
      (element) =>
        getRole(element) === role &&
        !isInaccessible(element) &&
        (name === undefined || fitsText(computeAccessibleName(element), name, match)),
    ),
  label: byLabel,
  placeholder: ({ placeholder, match }) =>
    all('[placeholder]').filter((field) => fitsText(field.getAttribute('placeholder')!, placeholder!, match)),
  text: byText,
  css: ({ css }) => all(css!),
  // A point is one of the whole view, which is that of the page's own document.
  spot: ({ spot }) => (window === window.top ? [deepestAt(spot!.x, spot!.y)].filter((one) => !!one) : []),
}

/** Elements that one way of a target finds in this document. */
export const find = (way: Way, target: Target): Element[] => narrowed(WAYS[way](target), target)
export const count = (way: Way, target: Target): number => find(way, target).length
/** What tells them apart, of the first few. */
export const places = (way: Way, target: Target): string[] => placesOf(find(way, target))

/** Of the elements a way found, those that stand where the target says. */
function narrowed(found: Element[], { within, beside, under, number }: Target): Element[] {
  let left = found
  if (within) {
    const outer = found.length === 0 ? [] : elementsOf(within)
    left = left.filter((element) => outer.some((one) => one !== element && holds(one, element)))
  }
  if (beside) left = nearest(left, beside, gapBeside)
  if (under) left = nearest(left, under, gapUnder)
  if (number === undefined) return left
  const chosen = left.at(number > 0 ? number - 1 : number)
  return chosen ? [chosen] : []
}

/** What a target that another is told by points at: by the first of its ways that finds one element, or else
 * by the first that finds any. */
function elementsOf(target: Target): Element[] {
  const found = (Object.keys(WAYS) as Way[])
    .filter((way) => target[way] !== undefined)
    .map((way) => find(way, target))
    .filter((elements) => elements.length > 0)
  return found.find(({ length }) => length === 1) ?? found[0] ?? []
}

type Gap = (from: DOMRect, to: DOMRect, isInside: boolean) => number | undefined

/** The one with the smallest gap to any of what the other target points at; several where that is the
 * same. */
function nearest(elements: Element[], target: Target, gap: Gap): Element[] {
  const from = elements.length === 0 ? [] : elementsOf(target)
  const gaps = elements.map((element) => {
    const others = from.filter((one) => one !== element && !holds(element, one))
    const to = element.getBoundingClientRect()
    return Math.min(
      ...others.map((one) => gap(one.getBoundingClientRect(), to, holds(one, element)) ?? Infinity),
    )
  })
  const least = Math.min(...gaps)
  return least === Infinity ? [] : elements.filter((_, i) => gaps[i] === least)
}

/** Between two on one line: they share half the height of the lower one, at least. What stands in the element
 * whose text it is, is beside that text. */
const gapBeside: Gap = (from, to, isInside) => {
  if (isInside) return 0
  const shared = Math.min(from.bottom, to.bottom) - Math.max(from.top, to.top)
  if (shared <= 0 || shared < Math.min(from.height, to.height) / 2) return undefined
  return Math.max(0, to.left - from.right, from.left - to.right)
}
/** From one to what is below it: they share some width. */
const gapUnder: Gap = (from, to, isInside) => {
  if (isInside) return undefined
  const shared = Math.min(from.right, to.right) - Math.max(from.left, to.left)
  const isBelow = to.top >= from.top + from.height / 2
  return shared > 0 && isBelow ? Math.max(0, to.top - from.bottom) : undefined
}
