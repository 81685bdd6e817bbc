/** Hides a text wherever a page shows it: a secret that was typed comes back in a greeting, or in another
 * field. */

/** Runs in a document, as early as may be, and stands for itself, as only its text gets into some browsers.
 * Texts are hidden by a highlight (CSS Custom Highlight API): nothing in the document changes. Whatever
 * changes later is looked at before it is painted. Not found: what a page draws itself, or writes by its
 * styles.
 * @param origins of documents that may know the texts: others are left alone */
export function hideEchoes(texts: readonly string[], origins: readonly string[]): () => void {
  if (!origins.includes(window.origin)) return () => {}
  type Root = Document | ShadowRoot
  const NAME = `oak-${Math.random().toString(36).slice(2)}`
  /** Of a document: a page may have hundreds of megabytes. */
  const CHARS_MOST = 1_000_000
  const STRIPES = 'repeating-linear-gradient(45deg, #8a8275 0 4px, #b8ae9e 4px 8px)'
  const sheet = new CSSStyleSheet()
  sheet.replaceSync(
    `::highlight(${NAME}) { color: transparent; -webkit-text-fill-color: transparent; text-shadow: ` +
      'none; background-color: #8a8275 }',
  )
  const highlights = (globalThis as { CSS?: { highlights?: Map<string, unknown> } }).CSS?.highlights
  const Highlight = (globalThis as { Highlight?: new (...ranges: Range[]) => unknown }).Highlight

  const roots = (): Root[] => {
    const found: Root[] = [document]
    for (let i = 0; i < found.length; i++)
      for (const element of found[i]!.querySelectorAll('*'))
        if (element.shadowRoot) found.push(element.shadowRoot)
    return found
  }
  /** Over the borders of elements, too: a page may mark a part of a word. */
  const rangesIn = (root: Root): Range[] => {
    const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT)
    const nodes: Text[] = []
    const starts: number[] = []
    let all = ''
    while (all.length < CHARS_MOST && walker.nextNode()) {
      const node = walker.currentNode as Text
      nodes.push(node)
      starts.push(all.length)
      all += node.data
    }
    const pointAt = (at: number, isEnd: boolean): [Text, number] => {
      let i = starts.length - 1
      while (i > 0 && (isEnd ? starts[i]! >= at : starts[i]! > at)) i--
      return [nodes[i]!, at - starts[i]!]
    }
    return texts.flatMap((text) => {
      const ranges: Range[] = []
      for (let at = all.indexOf(text); at >= 0; at = all.indexOf(text, at + text.length)) {
        const range = document.createRange()
        range.setStart(...pointAt(at, false))
        range.setEnd(...pointAt(at + text.length, true))
        ranges.push(range)
      }
      return ranges
    })
  }
  const cover = (element: Element | null) => {
    const { style } = element as HTMLElement
    if (style.getPropertyPriority('color') === 'important') return
    style.setProperty('color', 'transparent', 'important')
    style.setProperty('-webkit-text-fill-color', 'transparent', 'important')
    style.setProperty('background', STRIPES, 'important')
  }

  const coverFields = (root: Root) => {
    for (const field of root.querySelectorAll<HTMLInputElement>('input, textarea'))
      if (texts.some((text) => field.value.includes(text))) cover(field)
  }
  const watched = new Set<Root>()
  const watch = (root: Root) => {
    if (watched.has(root)) return
    watched.add(root)
    root.adoptedStyleSheets = [...root.adoptedStyleSheets, sheet]
    new MutationObserver(hide).observe(root, {
      subtree: true,
      childList: true,
      characterData: true,
      attributes: true,
      attributeFilter: ['value'],
    })
  }
  function hide(): void {
    const ranges: Range[] = []
    for (const root of roots()) {
      watch(root)
      ranges.push(...rangesIn(root))
      coverFields(root)
    }
    if (highlights && Highlight) highlights.set(NAME, new Highlight(...ranges))
    else for (const range of ranges) cover(range.commonAncestorContainer.parentElement)
  }
  /** A script that writes into a field changes nothing that an observer is told of. */
  const coverAlways = () => {
    for (const root of watched)
      if (root === document || (root as ShadowRoot).host.isConnected) coverFields(root)
      else watched.delete(root)
    requestAnimationFrame(coverAlways)
  }
  for (const type of ['input', 'change', 'click', 'keyup'])
    document.addEventListener(type, () => requestAnimationFrame(hide), true)
  hide()
  requestAnimationFrame(coverAlways)
  return hide
}
