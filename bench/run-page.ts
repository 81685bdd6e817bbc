/** The page of a run of 2,000 case runs on 60 seats while results come in: script for each update, and memory
 * over the minutes: OAK_BENCH_MINUTES, 1.5 by itself. */
import { setTimeout } from 'node:timers/promises'
import type { BrowserContext } from 'playwright-core'
import { signedIn, startProduct } from './product'
import { layOutSuite, Protocol, type Given } from './protocol'
import { report } from './report'

const [AGENTS, SEATS] = [20, 3]
const [CASES, REPEATS, ENVIRONMENTS] = [50, 20, ['wide', 'narrow']]
const [WARM_MS, MEASURED_MS] = [20_000, 60_000 * Number(process.env.OAK_BENCH_MINUTES ?? 1.5)]
/** Long enough that there is work on every seat to the end. */
const HELD_MS = Math.round(
  (1.2 * (WARM_MS + MEASURED_MS) * AGENTS * SEATS) / (CASES * REPEATS * ENVIRONMENTS.length),
)
/** As the browser of the person who looks: a view reads again at most this often. */
const UPDATE_MS = 700

const BEAT_MS = 5000
/** Until a page just opened has settled. */
const FRESH_MS = 10_000
const GROWTH_MOST = 1.1
const mega = (bytes: number) => (bytes / 1e6).toFixed(1)

const product = await startProduct({ port: 4960, demo: false })
const protocol = new Protocol(product)
let done = false
/** Leases by attempt, by agent. */
const held = new Map<string, Map<string, number>>()
try {
  const suite = await layOutSuite(product, { environments: ENVIRONMENTS, cases: CASES, repeats: REPEATS })
  const agents = await Promise.all(
    Array.from({ length: AGENTS }, (_, i) => protocol.register(`page-${i}`, SEATS, ENVIRONMENTS)),
  )
  const { run } = await suite.start()
  await suite.close()
  const working = agents.flatMap((id) => [
    beat(id),
    ...Array.from({ length: SEATS }, (_, i) => serve(id, i + 1)),
  ])
  const { context, close } = await signedIn(product)
  const { page, metrics, heap } = await openRun(context, run)
  await setTimeout(WARM_MS)
  let updates = 0
  page.on('response', (response) => void (response.url().endsWith(`/api/runs/${run}`) && updates++))
  const [before, heapBefore] = [await metrics(), await heap()]
  const scriptBefore = (await metrics()).ScriptDuration!
  await setTimeout(MEASURED_MS)
  const script = ((await metrics()).ScriptDuration! - scriptBefore) * 1000
  const heapAfter = await heap()
  report(
    `script for an update, mean of ${updates} (at most one each ${UPDATE_MS} ms)`,
    script / updates,
    16,
    'ms',
  )
  // More results are more to show: a page just opened has as much of them, and nothing of the updates.
  const fresh = await openRun(context, run)
  await setTimeout(FRESH_MS)
  const heapFresh = await fresh.heap()
  report('memory of the page against one just opened', heapAfter / heapFresh, GROWTH_MOST, 'times')
  console.log(
    `      ${mega(heapBefore)} MB, then ${mega(heapAfter)} MB, just opened ${mega(heapFresh)} MB; ` +
      `${before.Nodes} nodes of the page, then ${(await metrics()).Nodes}`,
  )
  done = true
  await close()
  await Promise.race([Promise.all(working), setTimeout(30_000)])
} finally {
  protocol.close()
  await product.stop()
}
process.exit()

async function openRun(context: BrowserContext, id: number) {
  const page = await context.newPage()
  await page.goto(`/runs/${id}`)
  await page.getByRole('grid').waitFor()
  const devtools = await context.newCDPSession(page)
  await devtools.send('Performance.enable')
  const metrics = async () =>
    Object.fromEntries(
      (await devtools.send('Performance.getMetrics')).metrics.map(({ name, value }) => [name, value]),
    )
  const heap = async () => {
    await devtools.send('HeapProfiler.collectGarbage')
    return (await metrics()).JSHeapUsedSize!
  }
  return { page, metrics, heap }
}

async function beat(id: string): Promise<void> {
  while (!done) {
    await protocol
      .ask(`/api/agents/${id}/heartbeat`, {
        attempts: [...(held.get(id) ?? [])].map(([attemptId, lease]) => ({ attemptId, lease })),
      })
      .catch(() => undefined)
    await setTimeout(BEAT_MS)
  }
}

async function serve(id: string, seat: number): Promise<void> {
  const mine = held.get(id) ?? new Map<string, number>()
  held.set(id, mine)
  await setTimeout(Math.random() * HELD_MS)
  let work: Given['work'] = null
  while (!done) {
    work ??=
      (await protocol.ask<Given>(`/api/agents/${id}/claim`, { waitMs: 5000, seat }).catch(() => undefined))
        ?.work ?? null
    if (!work) continue
    const { attemptId, lease }: { attemptId: string; lease: number } = work
    mine.set(attemptId, lease)
    await setTimeout(HELD_MS)
    mine.delete(attemptId)
    work =
      (
        await protocol
          .ask<Given>(`/api/agents/${id}/attempts/${attemptId}/finish`, {
            lease,
            result: { outcome: 'passed', ms: HELD_MS },
            next: { seat },
            events: [{ no: 1, atMs: 0, type: 'started', agent: id, facts: {} }],
          })
          .catch(() => undefined)
      )?.work ?? null
  }
}
