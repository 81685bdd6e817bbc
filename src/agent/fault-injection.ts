/** What a simulated agent was told to do wrong, for as long as it holds. */
import { pause, type Ordered } from './protocol/client'

export class FaultInjection {
  private readonly orders = new Map<string, Ordered & { untilMs: number }>()

  constructor(private readonly now: () => number = () => performance.now()) {}

  /** As the server says with each heartbeat: what is not said any more is over, but for being lost, when
   * nothing is heard. */
  set(orders: readonly Ordered[]): void {
    this.orders.clear()
    for (const order of orders)
      this.orders.set(`${order.what} ${order.environment ?? ''}`, {
        ...order,
        untilMs: this.now() + order.forMs,
      })
  }

  get isLost(): boolean {
    return this.holding().some(({ what }) => what === 'lost')
  }

  /** How many times as long things take, or as often go wrong, on an environment. */
  factor(what: 'slow' | 'upset', environment: string): number {
    return this.holding()
      .filter((order) => order.what === what && (order.environment ?? environment) === environment)
      .reduce((product, { factor = 1 }) => product * factor, 1)
  }

  /** Resolves when it is not lost any more. */
  async untilFound(signal: AbortSignal): Promise<void> {
    while (this.isLost && !signal.aborted)
      await pause(
        Math.min(1000, Math.max(...this.holding().map(({ untilMs }) => untilMs - this.now()))),
        signal,
      )
  }

  private holding = () => [...this.orders.values()].filter(({ untilMs }) => untilMs > this.now())
}
