/** Waits for what an animation moves. The library takes an element that is in one place for two frames for
 * standing, and a busy machine draws two such frames of what moves slowly. */
import type { Locator } from 'playwright-core'
import { ask } from './asking'

const POLL_MS = 40

/** @returns how much is left of the time, in ms: whatever moves longer is left to who clicks it */
export async function comeToRest(element: Locator, limitMs: number): Promise<number> {
  const until = performance.now() + limitMs
  const left = () => Math.max(1, until - performance.now())
  while (performance.now() < until) {
    const [moves] = await ask(element, [['isAnimated']], left())
    if (!moves) break
    await new Promise((resolve) => setTimeout(resolve, POLL_MS))
  }
  return left()
}
