/** Runs in pages.
 *
 * Whether an element is shown in a dialog, also as content of one that is a web component. */
export function isInDialog(element: Element): boolean {
  for (let node: Node | null = element; node;) {
    if (node instanceof Element && node.matches('[role=dialog], dialog')) return true
    const slot: Node | null = node instanceof Element ? node.assignedSlot : null
    node = slot ?? node.parentNode ?? (node as ShadowRoot).host ?? null
  }
  return false
}
