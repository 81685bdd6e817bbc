/** What an agent has in hand, and what the server says about it with each heartbeat. */
import { Gate } from './interpreter'
import { StopOrder } from './interpreter/stop-order'
import type { Command } from './protocol/client'

export class Held {
  /** Stops the attempt, with a StopOrder as the reason. */
  readonly cancel = new AbortController()
  /** Nothing more of it is sent: it is not ours any more. */
  readonly drop = new AbortController()
  readonly gate = new Gate()
  /** Somebody looks at its screen. */
  watched = false
  /** Its result is on the way: the answer to that says whether it was ours, and may hold the seat's next
   * work. A heartbeat that crosses it knows less. */
  finishing = false
  /** By when it has to be over, and the browser that is ended then. */
  overdueAt: number | undefined
  mark: string | undefined
  /** Its browser was ended, for it did not end by itself. */
  overdue = false

  constructor(readonly lease: number) {}

  /** What is not said any more is over. */
  obey(commands: readonly Command[]): void {
    this.gate.set(commands.some(({ command }) => command === 'pause'))
    this.watched = commands.some(({ command }) => command === 'watch')
    for (const one of commands) {
      if (one.command === 'cancel') this.cancel.abort(new StopOrder(one.undo))
      else if (one.command === 'end') this.cancel.abort(new StopOrder(true, one.because))
      else if (one.command === 'drop' && !this.finishing) this.give()
    }
  }

  /** It is not ours any more: it stops, and nothing more is sent. */
  give(): void {
    this.cancel.abort(new StopOrder(true))
    this.drop.abort()
  }
}
