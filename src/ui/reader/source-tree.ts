/** The source of a page as a tree to look at. It is parsed, and never shown as a page: no script of it runs,
 * and nothing of it is loaded. */

/** Characters that are parsed; of more, the source itself is there to read. */
export const SOURCE_MOST = 5_000_000
const TEXT_MOST = 200
const ATTRIBUTE_MOST = 120

export const parseSource = (source: string): Element =>
  new DOMParser().parseFromString(source, 'text/html').documentElement

/** `<input name="q" type="text">`. */
export function tagOf(element: Element): string {
  const attributes = [...element.attributes].map(
    ({ name, value }) => ` ${name}${value === '' ? '' : `="${clip(value, ATTRIBUTE_MOST)}"`}`,
  )
  return `<${element.localName}${attributes.join('')}>`
}

/** Text of its own, not of elements in it. */
export const ownText = (element: Element): string =>
  clip(
    [...element.childNodes]
      .filter((node) => node.nodeType === Node.TEXT_NODE)
      .map((node) => node.textContent ?? '')
      .join(' ')
      .replace(/\s+/g, ' ')
      .trim(),
    TEXT_MOST,
  )

const NAMING = [
  'data-testid',
  'data-test-id',
  'data-test',
  'id',
  'name',
  'aria-label',
  'placeholder',
  'alt',
  'title',
]

/** What a step meant by these words, as far as the source tells: by an attribute that names, then by text.
 * @returns `undefined`: nothing is like it */
export function meantBy(root: Element, words: string): Element | undefined {
  const wanted = words.trim().toLowerCase()
  if (wanted === '') return undefined
  const all = [...root.querySelectorAll('*')]
  const named = all.find((element) =>
    NAMING.some((name) => element.getAttribute(name)?.toLowerCase() === wanted),
  )
  if (named) return named
  const texts = all.filter((element) => !/^(script|style|head|title)$/.test(element.localName))
  return (
    texts.findLast((element) => ownText(element).toLowerCase() === wanted) ??
    texts.findLast((element) => ownText(element).toLowerCase().includes(wanted))
  )
}

/** Elements that have a text in their tag or their own text, in the order of the source. */
export function elementsWith(root: Element, text: string): Element[] {
  const wanted = text.trim().toLowerCase()
  if (wanted === '') return []
  return [root, ...root.querySelectorAll('*')].filter(
    (element) =>
      tagOf(element).toLowerCase().includes(wanted) || ownText(element).toLowerCase().includes(wanted),
  )
}

/** It and all it is in. */
export function pathTo(element: Element | undefined): Set<Element> {
  const path = new Set<Element>()
  for (let at = element ?? null; at; at = at.parentElement) path.add(at)
  return path
}

const clip = (text: string, most: number) => (text.length > most ? `${text.slice(0, most)}…` : text)
