/** Roles, names and the finding of targets in parsed pages, after the parts of WAI-ARIA and HTML-AAM that
 * forms need. */
import { TARGET_WAYS, tidy, type Target } from '@/core/model'

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
          (target.name === undefined || nameOf(element) === tidy(target.name)),
      )
    case 'label':
      return all('input, select, textarea').filter(
        (element) => (labelOf(element) ?? '') === tidy(target.label!),
      )
    case 'placeholder':
      return all('[placeholder]').filter(
        (element) => element.getAttribute('placeholder') === target.placeholder,
      )
    case 'text':
      return all('body *').filter(
        (element) =>
          tidy(element.textContent ?? '') === tidy(target.text!) &&
          ![...element.children].some((child) => tidy(child.textContent ?? '') === tidy(target.text!)),
      )
    case 'css':
      return all(target.css!)
  }
}

export type Hits = { elements: Element[]; way: (typeof TARGET_WAYS)[number] }

/** The first way of the target that finds exactly one element over these documents; else the first that finds
 * any. */
export function findIn(documents: Document[], target: Target): Hits | undefined {
  const found = TARGET_WAYS.filter((way) => target[way] !== undefined)
    .map((way) => ({ way, elements: documents.flatMap((document) => matching(document, target, way)) }))
    .filter(({ elements }) => elements.length > 0)
  return found.find(({ elements }) => elements.length === 1) ?? found[0]
}
