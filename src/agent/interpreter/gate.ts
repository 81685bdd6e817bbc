/** Waited for before each step of an attempt: closed while the attempt is paused. */
export class Gate {
  private waiting: (() => void)[] = []
  private closed = false
  /** Told when it closes or opens. */
  onChange: ((closed: boolean) => void) | undefined

  set(closed: boolean): void {
    if (closed !== this.closed) this.onChange?.(closed)
    this.closed = closed
    if (!closed) for (const go of this.waiting.splice(0)) go()
  }

  get isClosed(): boolean {
    return this.closed
  }

  /** @returns when it is open, or at once when the attempt is to stop */
  async pass(signal: AbortSignal): Promise<void> {
    while (this.closed && !signal.aborted) {
      await new Promise<void>((resolve) => {
        this.waiting.push(resolve)
        signal.addEventListener('abort', () => resolve(), { once: true })
      })
    }
  }
}
