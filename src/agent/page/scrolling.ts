/** Runs in pages.
 *
 * Scrolls what scrolls at an element: itself, or else the first in it, or else the nearest around it. At the
 * root element that is the page.
 * @param by CSS pixels; `null`: most of what is seen of it
 * @returns whether anything moved */
export function scrollAt(element: Element, by: number | null): boolean {
  const scrolls = (one: Element) =>
    one.scrollHeight > one.clientHeight + 1 && /auto|scroll|overlay/.test(getComputedStyle(one).overflowY)
  const around = () => {
    for (let above = element.parentElement; above; above = above.parentElement)
      if (scrolls(above)) return above
    return undefined
  }
  const find = () => {
    if (element === document.documentElement) return undefined
    return scrolls(element) ? element : ([...element.querySelectorAll('*')].find(scrolls) ?? around())
  }
  const box = find() ?? document.scrollingElement ?? document.documentElement
  const before = box.scrollTop
  box.scrollBy({ top: by ?? box.clientHeight * 0.8, behavior: 'instant' })
  return Math.abs(box.scrollTop - before) >= 1
}
