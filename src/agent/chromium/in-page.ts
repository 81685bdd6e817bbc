/** Functions that run in every document before its own scripts: each stands for itself, as only its text gets
 * there. */

/** Runs in every document before its own scripts: no screen and no video frame shows even the length of a
 * secret. */
export const hideSecrets = () => {
  const sheet = new CSSStyleSheet()
  sheet.replaceSync(
    'input[type=password] { color: transparent !important; caret-color: transparent !important; ' +
      'background: repeating-linear-gradient(45deg, #8a8275 0 4px, #b8ae9e 4px 8px) !important }',
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
    if (opened.size >= most) {
      // eslint-disable-next-line no-console -- the log says what the page's own console says
      console.warn(`a window was not opened: a page has ${most} at most beside its own`)
      return null
    }
    const made = open.apply(this, given)
    if (made) opened.add(made)
    return made
  }
}
