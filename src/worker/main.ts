/** The background process. Any number may run: leases are expired by one statement, jobs are taken by one worker each. */
import { setTimeout } from 'node:timers/promises'
import { run, type Runner } from 'graphile-worker'
import { makeContext } from '@/server/context'
import { SEND_DEFECT, sendDefect } from '@/server/defects'
import { expireLeases } from '@/server/dispatch'

const ctx = makeContext(process.env)
/** Often enough that lost work waits no longer than a tenth of a lease. */
const SWEEP_MS = Math.min(3000, ctx.leaseMs / 10)

const say = (text: string) => console.log(new Date().toISOString().slice(11, 19), text)
const ending = new AbortController()
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, () => ending.abort())

const runner: Runner = await run({
  pgPool: ctx.connection.pool,
  concurrency: 3,
  noHandleSignals: true,
  pollInterval: 1000,
  taskList: { [SEND_DEFECT]: (payload) => sendDefect(ctx, (payload as { defectId: number }).defectId) },
})
say('worker: ready')

while (!ending.signal.aborted) {
  const lost = await expireLeases(ctx).catch((error: Error) => {
    say(`the sweep failed and is done again: ${error.name}`)
    return 0
  })
  if (lost > 0) say(`${lost} expired ${lost === 1 ? 'lease' : 'leases'}: the work waits again`)
  await setTimeout(SWEEP_MS, undefined, { signal: ending.signal }).catch(() => {}) // woken early to end
}
await runner.stop()
await ctx.connection.close()
process.exit()
