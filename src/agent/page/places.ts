/** What tells elements apart that a target finds together. Runs in pages, also by itself: it uses nothing
 * from outside. */

/** @returns of the first five: number, kind, own words, place on the screen in CSS pixels */
export function placesOf(elements: readonly Element[]): string[] {
  const words = (element: Element) =>
    (element.getAttribute('aria-label') ?? (element as HTMLElement).innerText ?? '')
      .slice(0, 200)
      .replace(/\s+/g, ' ')
      .trim()
      .slice(0, 40)
  return elements.slice(0, 5).map((element, i) => {
    const { x, y } = element.getBoundingClientRect()
    const kind = element.getAttribute('role') ?? element.tagName.toLowerCase()
    const said = words(element)
    return `no. ${i + 1}: ${kind}${said && ` “${said}”`} at ${Math.round(x)}, ${Math.round(y)}`
  })
}
