export type FileInPage = { name: string; text: string; encoding?: 'base64'; type: string }

/** Runs in pages: files as a drop or a field holds them. */
export function filesHeld(files: readonly FileInPage[]): DataTransfer {
  const held = new DataTransfer()
  for (const { name, text, encoding, type } of files) {
    const content = encoding ? Uint8Array.from(atob(text), (sign) => sign.charCodeAt(0)) : text
    held.items.add(new File([content], name, { type }))
  }
  return held
}

/** Runs in pages.
 *
 * Drops files on an element, by the events of a drop that HTML defines (html.spec.whatwg.org, drag and drop);
 * no WebDriver has a way to drag files in from outside. Like a browser it drops only what the page says it
 * takes: by cancelling the event of what is over it.
 * @returns whether the page took them */
export function dropFiles(element: Element, files: readonly FileInPage[]): boolean {
  const held = filesHeld(files)
  const { left, top, width, height } = element.getBoundingClientRect()
  const at = { clientX: left + width / 2, clientY: top + height / 2 }
  const tell = (type: string) =>
    !element.dispatchEvent(
      new DragEvent(type, { bubbles: true, cancelable: true, composed: true, dataTransfer: held, ...at }),
    )
  tell('dragenter')
  if (!tell('dragover')) {
    tell('dragleave')
    return false
  }
  tell('drop')
  return true
}
