/** Functions that run in the page under test: each stands for itself, as only its text gets there. */
import type { ElementState } from '@/core/model'

/** Runs in every document before its own scripts: no screen and no video frame shows even the length of a
 * secret. */
export const hideSecrets = () => {
  const sheet = new CSSStyleSheet()
  sheet.replaceSync(
    'input[type=password] { color: transparent !important; caret-color: transparent !important; background: repeating-linear-gradient(45deg, #8a8275 0 4px, #b8ae9e 4px 8px) !important }',
  )
  document.adoptedStyleSheets.push(sheet)
  const attach = Element.prototype.attachShadow
  Element.prototype.attachShadow = function (init) {
    const root = attach.call(this, init)
    root.adoptedStyleSheets.push(sheet)
    return root
  }
}

/** Runs in every document before its own scripts: no more windows are opened than are kept, as blockers of
 * pop-ups do. Fifty that are opened and closed at once kept a click waiting for 20 seconds. */
export const limitWindows = (most: number) => {
  const open = window.open
  const opened = new Set<Window>()
  window.open = function (...given) {
    for (const one of opened) if (one.closed) opened.delete(one)
    if (opened.size >= most) return null
    const made = open.apply(this, given)
    if (made) opened.add(made)
    return made
  }
}

/** A field that took a secret keeps it here: any other text of it may be a part, and is shown to nobody. */
type Field = HTMLInputElement & { oakHolds?: string | null }

/** Runs in the page: the look of a password field, for a field that takes a secret and is none. @returns its
 * type */
export function prepareField(element: Element, secret: string | null): string | null {
  ;(element as Field).oakHolds = secret
  if (secret !== null)
    (element as HTMLElement).style.cssText +=
      ';color:transparent!important;caret-color:transparent!important;text-shadow:none!important;background:repeating-linear-gradient(45deg,#8a8275 0 4px,#b8ae9e 4px 8px)!important'
  return element.getAttribute('type')
}

/** Runs in the page. */
export function readAttribute(element: Element, name: string): string | null {
  const value = element.getAttribute(name)
  const { oakHolds: secret } = element as Field
  return name === 'value' && secret && value !== secret ? '••••' : value
}

/** Runs in the page. */
export function readElement(element: Element, most: number) {
  const field = element as Field
  const shown = (text: string) =>
    field.oakHolds && text !== '' && text !== field.oakHolds ? '••••' : text.slice(0, most)
  const rect = element.getBoundingClientRect()
  const visible = rect.width > 0 && rect.height > 0 && getComputedStyle(element).visibility !== 'hidden'
  const states: ElementState[] = [
    visible ? 'visible' : 'hidden',
    field.disabled ? 'disabled' : 'enabled',
    field.checked ? 'checked' : 'unchecked',
  ]
  if ((element.getRootNode() as Document).activeElement === element) states.push('focused')
  return {
    text: shown((element as HTMLElement).innerText ?? element.textContent ?? ''),
    value: shown(field.value === undefined ? '' : String(field.value)),
    states,
  }
}

/** Runs in the page. */
export function readSource(most: number): string {
  const top = document.documentElement
  const shadowRoots: ShadowRoot[] = []
  const visit = (root: Document | ShadowRoot) => {
    for (const { shadowRoot } of root.querySelectorAll('*')) {
      if (!shadowRoot) continue
      shadowRoots.push(shadowRoot)
      visit(shadowRoot)
    }
  }
  visit(document)
  // open shadow roots as templates at their hosts (HTML Standard, "declarative shadow roots")
  const [open, close] = (top.cloneNode(false) as Element).outerHTML.split(/(?=<\/[^<]*$)/)
  const html = `${open}${top.getHTML({ shadowRoots })}${close ?? ''}`
  return html.length > most ? `${html.slice(0, most)}\n… and ${html.length - most} more characters` : html
}

/** Runs in the page: the label of a modal dialog that is shown, in whatever shadow root. */
export function openDialogIn(): string | undefined {
  const roots: (Document | ShadowRoot)[] = [document]
  for (let i = 0; i < roots.length; i++)
    for (const { shadowRoot } of roots[i]!.querySelectorAll('*')) if (shadowRoot) roots.push(shadowRoot)
  const dialog = roots
    .flatMap((root) => [...root.querySelectorAll('dialog[open], [role=dialog][aria-modal=true]')])
    .find((one) => one.getClientRects().length > 0 && getComputedStyle(one).visibility !== 'hidden')
  const words =
    dialog &&
    (dialog.getAttribute('aria-label') ?? dialog.querySelector('h1, h2, h3')?.textContent ?? 'dialog')
  return words?.trim()
}

/** Runs in the page: whether a field lies under what its own label has drawn over it. */
export function isUnderItsLabel(element: Element): boolean {
  const rect = element.getBoundingClientRect()
  const [x, y] = [rect.x + rect.width / 2, rect.y + rect.height / 2]
  let top = document.elementFromPoint(x, y)
  for (let inner; top?.shadowRoot && (inner = top.shadowRoot.elementFromPoint(x, y)) && inner !== top;)
    top = inner
  const label = element.closest('label')
  return label !== null && top !== null && top !== element && label.contains(top)
}

/** Runs in the page: what stands over the middle of the element, if anything does. */
export function coveringElement(element: Element): string | undefined {
  const rect = element.getBoundingClientRect()
  const [x, y] = [rect.x + rect.width / 2, rect.y + rect.height / 2]
  const holds = (outer: Element, inner: Element) => {
    for (let node: Node | null = inner; node; node = node.parentNode ?? (node as ShadowRoot).host ?? null)
      if (node === outer) return true
    return false
  }
  let top = document.elementFromPoint(x, y)
  for (let inner; top?.shadowRoot && (inner = top.shadowRoot.elementFromPoint(x, y)) && inner !== top;)
    top = inner
  if (!top || holds(element, top) || holds(top, element)) return undefined
  return top.tagName.toLowerCase() + [...top.classList].map((name) => `.${name}`).join('')
}
