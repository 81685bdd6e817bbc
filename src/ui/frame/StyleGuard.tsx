/** The Content-Security-Policy takes no style without its nonce. Style elements that our own scripts make
 * carry it; style attributes of the page as it comes are set anew by the script, which may. Once the page is
 * there, React sets them so anyway. */
const SCRIPT = `(() => {
  const { nonce } = document.currentScript
  const make = document.createElement
  document.createElement = function (name, options) {
    const element = make.call(document, name, options)
    if (String(name).toLowerCase() === 'style') element.nonce = nonce
    return element
  }
  const set = (element) => {
    const text = element.getAttribute('style')
    if (text) element.style.cssText = text
  }
  const observer = new MutationObserver((changes) => {
    for (const { addedNodes } of changes) {
      for (const node of addedNodes) {
        if (node.nodeType !== 1) continue
        set(node)
        node.querySelectorAll('[style]').forEach(set)
      }
    }
  })
  observer.observe(document.documentElement, { childList: true, subtree: true })
  addEventListener('load', () => observer.disconnect())
})()`

export function StyleGuard({ nonce }: { nonce: string | undefined }) {
  return <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: SCRIPT }} />
}
