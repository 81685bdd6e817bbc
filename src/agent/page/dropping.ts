/** Runs in pages.
 *
 * Drops files on an element, by the events of a drop that HTML defines (html.spec.whatwg.org, drag and drop);
 * no WebDriver has a way to drag files in from outside. Like a browser it drops only what the page says it
 * takes: by cancelling the event of what is over it.
 * @returns whether the page took them */
export function dropFiles(element: Element, files: readonly { name: string; text: string }[]): boolean {
  const held = new DataTransfer()
  for (const { name, text } of files) held.items.add(new File([text], name, { type: 'text/plain' }))
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
