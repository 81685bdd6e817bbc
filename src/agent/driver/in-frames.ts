/** What is at a point of the page, also where that is in a frame: each document is asked for itself. */
import type { Box } from '@/core/execution'
import type { ElementFacts } from '@/core/live'

export type FrameAsking<F> = {
  /** At a point of the view of a document. */
  factsAt(frame: F, x: number, y: number): Promise<ElementFacts | null>
  /** The view of a document, in its own coordinates: where its content begins, and how large it is. */
  viewBox(frame: F): Promise<Box>
  /** Where the content of a document begins on the page. */
  rootOnPage(frame: F): Promise<Pick<Box, 'x' | 'y'> | undefined | null>
}

const isFrame = ({ tag }: ElementFacts): boolean => tag === 'iframe' || tag === 'frame'

/** @param frames the page's own document first, outer ones before those in them
 * @returns `null`: nothing is there */
export async function factsInFrames<F>(
  frames: readonly F[],
  x: number,
  y: number,
  ask: FrameAsking<F>,
): Promise<ElementFacts | null> {
  const [top, ...inner] = frames
  let facts = top === undefined ? null : await ask.factsAt(top, x, y)
  for (const frame of inner) {
    if (!facts || !isFrame(facts)) return facts
    // one that goes away meanwhile is not pointed at
    facts = (await factsInFrame(frame, x, y, ask).catch(() => null)) ?? facts
  }
  return facts
}

async function factsInFrame<F>(
  frame: F,
  x: number,
  y: number,
  ask: FrameAsking<F>,
): Promise<ElementFacts | null> {
  const [view, root] = await Promise.all([ask.viewBox(frame), ask.rootOnPage(frame)])
  if (!root) return null
  const left = root.x - view.x
  const top = root.y - view.y
  const isIn = x >= left && x < left + view.w && y >= top && y < top + view.h
  const facts = isIn ? await ask.factsAt(frame, x - left, y - top) : null
  if (!facts?.box) return facts
  const { box } = facts
  return { ...facts, box: { ...box, x: Math.round(box.x + left), y: Math.round(box.y + top) } }
}
