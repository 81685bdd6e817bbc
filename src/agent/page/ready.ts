/** Runs in the page: whether an element stood ready when a person clicked it, and whether anything came of
 * that. */
import type { Unready } from '@/core/live'
import { cover, isAnimated } from './click-ready'
import { meantBy } from './facts'
import type { Needs } from './needs'

/** So long after the last look at an element it may have moved for other reasons. */
const LOOK_MS = 600
const MOVED_PX = 2
const ANSWER_MS = 1000
/** What came of a click that was done again is looked for so long. */
const CAME_MS = 4000
/** Such a click may do something that is not seen on the page. */
const ELSEWHERE = 'a[href], input:not([type=button], [type=submit]), select, textarea, label, summary'

type Look = { element: Element; x: number; y: number; at: number }
type Said = { answered(is: boolean): void; came(element: Element): void }

export class Readiness {
  private looked: Look | undefined
  /** Clicked last, and nothing came of it. */
  private dud: Element | undefined
  private timer: ReturnType<typeof setTimeout> | undefined
  /** When something was begun to be done last: the button went down. */
  private actedAt = 0

  constructor(
    private readonly needs: Needs,
    private readonly say: Said,
  ) {}

  pointed(element: Element): void {
    const meant = meantBy(element)
    this.looked = { element: meant, ...placeOf(meant), at: performance.now() }
  }

  /** Just before it is clicked. */
  of(element: Element): Unready | undefined {
    if (this.isMoving(element)) return { is: 'moving' }
    const over = cover(element)
    return over === null ? undefined : { is: 'covered', by: over }
  }

  /** It was clicked. */
  clicked(element: Element): void {
    const isAgain = this.dud === element
    const { actedAt } = this
    this.acted()
    this.dud = undefined
    if (element.matches(ELSEWHERE) || element.closest('label')) return
    const address = location.href
    if (isAgain) this.lookForWhatCame(performance.now())
    this.timer = setTimeout(() => {
      // a page may answer as soon as the button goes down
      if (this.needs.lastChange > actedAt || location.href !== address || !element.isConnected) return
      this.dud = element
      this.say.answered(false)
      this.needs.onChange = () => {
        this.dud = undefined
        this.needs.onChange = undefined
        this.say.answered(true)
      }
    }, ANSWER_MS)
  }

  /** Something is done: what changes now came of that. */
  acted(): void {
    clearTimeout(this.timer)
    this.needs.onChange = undefined
    this.actedAt = performance.now()
  }

  private lookForWhatCame(at: number): void {
    this.needs.onChange = () => {
      const one = this.needs.named()
      if (!one && performance.now() - at < CAME_MS) return
      this.needs.onChange = undefined
      if (one) this.say.came(one)
    }
  }

  private isMoving(element: Element): boolean {
    const { looked } = this
    if (looked?.element === element && performance.now() - looked.at <= LOOK_MS) {
      const { x, y } = placeOf(element)
      if (Math.abs(x - looked.x) > MOVED_PX || Math.abs(y - looked.y) > MOVED_PX) return true
    }
    return isAnimated(element)
  }
}

/** On the page, so that scrolling does not move it. */
function placeOf(element: Element): { x: number; y: number } {
  const { x, y } = element.getBoundingClientRect()
  return { x: x + scrollX, y: y + scrollY }
}
