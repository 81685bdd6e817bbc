/** Runs in the page: whether an element stands still, with nothing over its middle. */
import { deepestAt } from './at-point'
import { holds } from './find'

const MOVING = ['transform', 'translate', 'left', 'top', 'right', 'bottom', 'margin', 'width', 'height']

/** Whether it is moved by an animation that ends, its own or of what it stands in. One without an end does
 * not
 * become still, so nobody waits for it. */
export function isAnimated(element: Element): boolean {
  for (let one: Element | null = element; one; one = one.parentElement)
    if (one.getAnimations().some(moves)) return true
  return false
}

const moves = ({ playState, effect }: Animation): boolean =>
  playState === 'running' &&
  effect instanceof KeyframeEffect &&
  Number.isFinite(effect.getComputedTiming().endTime) &&
  effect.getKeyframes().some((frame) => MOVING.some((property) => frame[property] !== undefined))

/** What stands over the middle of the element, if anything does. */
export function cover(element: Element): string | null {
  const { x, y, width, height } = element.getBoundingClientRect()
  const top = deepestAt(x + width / 2, y + height / 2)
  if (!top || holds(element, top) || holds(top, element)) return null
  // what a label has drawn over its own field is no cover: whoever clicks there clicks the field
  const label = element.closest('label')
  if (label && holds(label, top)) return null
  return top.tagName.toLowerCase() + [...top.classList].map((name) => `.${name}`).join('')
}

/** Why it cannot be clicked yet, in words; `null`: it can. */
export function hindrance(element: Element): string | null {
  const over = cover(element)
  if (over !== null) return `it is covered: the point belongs to ${over}`
  if ((element as HTMLInputElement).disabled) return 'it is disabled'
  return isAnimated(element) ? 'it is still moving' : null
}
