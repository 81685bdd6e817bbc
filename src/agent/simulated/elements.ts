/** Roles, names and the finding of targets in parsed pages, after the parts of WAI-ARIA and HTML-AAM that
 * forms need. */
import { fitsText, TARGET_WAYS, tidy, type Target } from '@/core/model'
import { DriverFault } from '../driver/port'

const IMPLICIT_ROLES: [selector: string, role: string][] = [
  ['a[href]', 'link'],
  ['button', 'button'],
  ['input[type=submit]', 'button'],
  ['input[type=checkbox]', 'checkbox'],
  ['input[type=radio]', 'radio'],
  ['input:not([type]), input[type=text], input[type=email], textarea', 'textbox'],
  ['select', 'combobox'],
  ['option', 'option'],
  ['h1, h2, h3, h4', 'heading'],
  ['table', 'table'],
  ['tr', 'row'],
  ['td', 'cell'],
  ['th', 'columnheader'],
  ['dialog', 'dialog'],
  ['ul, ol', 'list'],
  ['li', 'listitem'],
  ['iframe', 'iframe'],
]

export const roleOf = (element: Element): string | undefined =>
  element.getAttribute('role') ?? IMPLICIT_ROLES.find(([selector]) => element.matches(selector))?.[1]

export function nameOf(element: Element): string {
  const label = element.getAttribute('aria-label')
  if (label) return tidy(label)
  if (element.matches('input, select, textarea'))
    return labelOf(element) ?? tidy(element.getAttribute('placeholder') ?? '')
  return tidy(element.textContent ?? '')
}

function labelOf(control: Element): string | undefined {
  const id = control.getAttribute('id')
  const label =
    control.closest('label') ?? (id ? control.ownerDocument.querySelector(`label[for="${id}"]`) : null)
  if (!label) return control.getAttribute('aria-label') ?? undefined
  const words = [...label.childNodes].filter((node) => node !== control).map((node) => node.textContent ?? '')
  return tidy(words.join(' '))
}

const selectorOfRole = (role: string) =>
  [
    `[role="${role}"]`,
    ...IMPLICIT_ROLES.filter(([, name]) => name === role).map(([selector]) => selector),
  ].join(', ')

const isHidden = (element: Element) =>
  element.closest('[hidden], script, style, template') !== null || element.matches('input[type=hidden]')

function matching(document: Document, target: Target, way: (typeof TARGET_WAYS)[number]): Element[] {
  const all = (selector: string) =>
    [...document.querySelectorAll(selector)].filter((element) => !isHidden(element))
  switch (way) {
    case 'testId':
      return all(`[data-testid="${target.testId}"]`)
    case 'role':
      return all(selectorOfRole(target.role!)).filter(
        (element) =>
          roleOf(element) === target.role &&
          (target.name === undefined || fitsText(nameOf(element), target.name, target.match)),
      )
    case 'label':
      return all('input, select, textarea').filter((element) =>
        fitsText(labelOf(element) ?? '', target.label!, target.match),
      )
    case 'placeholder':
      return all('[placeholder]').filter((element) =>
        fitsText(element.getAttribute('placeholder')!, target.placeholder!, target.match),
      )
    case 'text': {
      const fits = (element: Element) => fitsText(element.textContent ?? '', target.text!, target.match)
      return all('body *').filter((element) => fits(element) && ![...element.children].some(fits))
    }
    case 'css':
      return all(target.css!)
  }
}

/** Of what a way finds, what stands where the target says.
 * @throws {DriverFault} script: it says so by the layout, which there is none of */
function narrowed(document: Document, target: Target, way: (typeof TARGET_WAYS)[number]): Element[] {
  const { within, beside, under, number } = target
  if (beside || under)
    throw new DriverFault('script', '“beside” and “under” need a real browser: here pages have no layout')
  const outer = within && (findIn([document], within)?.elements ?? [])
  const left = matching(document, target, way).filter(
    (element) => !outer || outer.some((one) => one !== element && one.contains(element)),
  )
  const chosen = number === undefined ? undefined : left.at(number > 0 ? number - 1 : number)
  if (number === undefined) return left
  return chosen ? [chosen] : []
}

export type Hits = { elements: Element[]; way: (typeof TARGET_WAYS)[number] }

/** The first way of the target that finds exactly one element over these documents; else the first that finds
 * any. */
export function findIn(documents: Document[], target: Target): Hits | undefined {
  const ways = TARGET_WAYS.filter((way) => target[way] !== undefined)
  if (ways.length === 0 && target.words === undefined && target.picture !== undefined)
    throw new DriverFault(
      'script',
      'a picture is looked for on the screen of a real browser; here there is none',
    )
  // There is no screen to read from; what would be read there is the page's own text.
  if (ways.length === 0 && target.words !== undefined)
    return findIn(documents, { ...target, text: target.words, match: 'part' })
  const found = ways
    .map((way) => ({ way, elements: documents.flatMap((document) => narrowed(document, target, way)) }))
    .filter(({ elements }) => elements.length > 0)
  return found.find(({ elements }) => elements.length === 1) ?? found[0]
}

export const toggle = (element: Element, attribute: string, on: boolean) =>
  on ? element.setAttribute(attribute, '') : element.removeAttribute(attribute)
