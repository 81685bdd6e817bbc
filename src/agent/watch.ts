/** Sends what is on an attempt's screen about each second, while somebody looks. */
import type { BrowserDriver } from './driver/port'
import type { Held } from './held'
import { pause, type ProtocolClient } from './protocol/client'

const EVERY_MS = 1000

/** Goes on until `signal` aborts. Never throws: a screen that is not sent is missed, and nothing else. */
export async function showScreen(
  { client, agentId, attemptId }: { client: ProtocolClient; agentId: string; attemptId: string },
  held: Held,
  driver: BrowserDriver,
  signal: AbortSignal,
): Promise<void> {
  let last: Uint8Array | undefined
  while (!signal.aborted) {
    if (held.watched && driver.peek) {
      const shot = await driver.peek().catch(() => undefined)
      const isNew = shot && !(last && Buffer.compare(shot.bytes, last) === 0)
      if (isNew)
        await client
          .sendScreen(agentId, { attemptId, lease: held.lease }, shot.mime, shot.bytes, signal)
          .then(
            () => {
              last = shot.bytes
            },
            () => {},
          )
    }
    await pause(EVERY_MS, signal)
  }
}
