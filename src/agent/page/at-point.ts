/** Runs in the page: what is at a point of its view. */

/** What is uppermost there, in whatever shadow root or document of the same origin that is. */
export function deepestAt(x: number, y: number): Element | null {
  let top = document.elementFromPoint(x, y)
  for (;;) {
    const inner = top && innerAt(top, x, y)
    if (!inner || inner === top) return top
    top = inner
  }
}

function innerAt(element: Element, x: number, y: number): Element | null {
  if (element.shadowRoot) return element.shadowRoot.elementFromPoint(x, y)
  if (element.tagName !== 'IFRAME') return null
  const { left, top } = element.getBoundingClientRect()
  const inner = (element as HTMLIFrameElement).contentDocument
  return inner?.elementFromPoint(x - left - element.clientLeft, y - top - element.clientTop) ?? null
}
