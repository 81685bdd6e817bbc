import type { ElementHandle, Page } from 'puppeteer-core'

/** A page that follows the pointer sees it come. */
const DRAG_STEPS = 10

type InPage = { oakPage?: { drag(from: Element, to: Element): boolean } }

/** As HTML has it where the page says that an element is draggable, with the pointer where it does not. */
export async function drag(page: Page, from: ElementHandle, to: ElementHandle): Promise<void> {
  const isDone = await from.evaluate(
    (one, other) => (window as InPage).oakPage!.drag(one as Element, other as Element),
    to,
  )
  if (isDone) return
  const { mouse } = page
  const [start, end] = [await from.clickablePoint(), await to.clickablePoint()]
  await mouse.move(start.x, start.y)
  await mouse.down()
  try {
    await mouse.move(end.x, end.y, { steps: DRAG_STEPS })
  } finally {
    await mouse.up()
  }
}
