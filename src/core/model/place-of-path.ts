/** From where a step stands in a log to where it stands in its case. */
import type { Step } from './types'

/** Place of a step of a case: `3`, or `3.0` for the first step in it. What stands in a loop, a branch or a
 * routine has the place of that.
 * @param path as in logs: `main.3.0`
 * @returns `undefined`: it is none of these steps */
export function placeOfPath(path: string, steps: readonly Step[]): string | undefined {
  const [phase, ...numbers] = path.split('.')
  if (phase !== 'main') return undefined
  const place: number[] = []
  let inner: readonly Step[] | undefined = steps
  for (const written of numbers) {
    // later tries of a step, and what put it right, are marked behind its number
    const at = Number.parseInt(written, 10)
    const step: Step | undefined = inner?.[at]
    if (!step) break
    place.push(at)
    inner = step.verb === 'block' ? step.steps : undefined
  }
  return place.length === 0 ? undefined : place.join('.')
}
