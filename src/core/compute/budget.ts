/** A clock in milliseconds, from any beginning. The core has none of its own. */
export type Clock = () => number

/** The reading of a clock costs more than a step: it is looked at once in so many. */
const STEPS_A_LOOK = 1 << 14

/** How much a search may do. It counts its own steps, a fixed number for each millisecond that was asked for,
 * so that the same input and seed give the same output; a clock, where there is one, only ends it early. */
export class Budget {
  /** The clock ended it before its steps were used up: on a quicker machine the output may be another. */
  cut = false
  private left: number
  private untilLook = STEPS_A_LOOK
  private readonly endMs: number | undefined

  constructor(
    budgetMs: number,
    stepsPerMs: number,
    private readonly clock?: Clock,
  ) {
    this.left = budgetMs * stepsPerMs
    this.endMs = clock && clock() + budgetMs
  }

  /** Uses up steps. @returns false when there are none left */
  spend(steps: number): boolean {
    this.left -= steps
    this.untilLook -= steps
    if (this.untilLook <= 0) {
      this.untilLook = STEPS_A_LOOK
      if (this.left > 0 && this.endMs !== undefined && this.clock!() >= this.endMs) {
        this.cut = true
        this.left = 0
      }
    }
    return this.left > 0
  }

  /** A part of what is left, as a budget of its own; what it spends is spent here too. */
  share(part: number): Budget {
    return new Part(this, this.left * part)
  }

  get over(): boolean {
    return this.left <= 0
  }
}

class Part extends Budget {
  constructor(
    private readonly whole: Budget,
    private own: number,
  ) {
    super(0, 0)
  }
  override spend(steps: number): boolean {
    this.own -= steps
    return this.whole.spend(steps) && this.own > 0
  }
  override get over(): boolean {
    return this.own <= 0 || this.whole.over
  }
  override share(part: number): Budget {
    return new Part(this.whole, this.own * part)
  }
}
