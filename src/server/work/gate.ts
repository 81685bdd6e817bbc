/** Limits how much work of one kind is in progress, and how much may wait. */
import { Problem } from '../http/problems'

export class Gate {
  private open = 0
  private readonly waiting: (() => void)[] = []

  /** @param atOnce most in progress
   * @param waitingMost most that wait; more are refused */
  constructor(
    private readonly atOnce: number,
    private readonly waitingMost: number,
  ) {}

  /** @throws {Problem} BUSY, and what the work throws */
  async through<T>(work: () => Promise<T>): Promise<T> {
    if (this.open >= this.atOnce) {
      if (this.waiting.length >= this.waitingMost) throw new Problem('BUSY')
      await new Promise<void>((resolve) => this.waiting.push(resolve))
    } else this.open++
    try {
      return await work()
    } finally {
      const next = this.waiting.shift()
      if (next) next()
      else this.open--
    }
  }
}
