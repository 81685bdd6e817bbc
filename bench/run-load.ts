/** 200 simulated agents with 600 seats against one web process, on one run of 20,000 case runs: how long
 * claims take, how many case runs a second, what memory. */
import { readFileSync } from 'node:fs'
import { setTimeout } from 'node:timers/promises'
import { startProduct } from './product'
import { layOutSuite, Protocol, type Given } from './protocol'
import { quantile, report } from './report'

const PORT = 4920
const [AGENTS, SEATS] = [200, 3]
const ENVIRONMENTS = ['wide', 'narrow', 'tall', 'small']
const [CASES, REPEATS] = [50, 100]
/** An attempt is held for so long on average, between half and one and a half of it: 600 seats then could do
 * 309 a second. Equal times would bring all seats back at the same moment once something had held them up. */
const HELD_MS = 1940
const EVENTS = 12
const [WARM_MS, MEASURED_MS] = [15_000, 45_000]
const BEAT_MS = 5000

const product = await startProduct({ port: PORT, demo: false })
const protocol = new Protocol(product)
const claims: { at: number; ms: number }[] = []
const ends: number[] = []
const refused: string[] = []
/** Leases by attempt, by agent. */
const held = new Map<string, Map<string, number>>()
let memory = 0
let done = false

try {
  const suite = await layOutSuite(product, { environments: ENVIRONMENTS, cases: CASES, repeats: REPEATS })
  const agents = await Promise.all(
    Array.from({ length: AGENTS }, (_, i) =>
      protocol.register(`load-${i}`, SEATS, [ENVIRONMENTS[i % 4]!, ENVIRONMENTS[(i + 1) % 4]!]),
    ),
  )
  const others = askMeanwhile()
  const { seconds } = await suite.start()
  const waits = await others.end()
  console.log(
    `      a run of ${CASES * REPEATS * ENVIRONMENTS.length} case runs was planned and laid out in ` +
      `${seconds.toFixed(1)} s; who asked something else meanwhile waited ` +
      `${quantile(waits, 0.5).toFixed(0)} ms, ${Math.max(...waits).toFixed(0)} ms at the most ` +
      `(${waits.length} asked)`,
  )
  await suite.close()
  const from = performance.now()
  const working = agents.flatMap((id) => [
    beat(id),
    ...Array.from({ length: SEATS }, (_, i) => serve(id, i + 1)),
  ])
  const watching = watchMemory()
  await setTimeout(WARM_MS + MEASURED_MS)
  done = true
  const within = (at: number) => at >= from + WARM_MS && at < from + WARM_MS + MEASURED_MS
  const measured = claims.filter(({ at }) => within(at)).map(({ ms }) => ms)
  report('claim, 95th of 100', quantile(measured, 0.95), 100, 'ms')
  console.log(
    `      median ${quantile(measured, 0.5).toFixed(0)} ms, slowest ` +
      `${Math.max(...measured).toFixed(0)} ms, ${measured.length} claims`,
  )
  const rate = ends.filter(within).length / (MEASURED_MS / 1000)
  console.log(
    `${(300 / rate).toFixed(2)}  case runs a second: ${rate.toFixed(0)}, at least 300, each with ` +
      `${EVENTS} events stored`,
  )
  report('memory of the web process', memory / 1e6, 600, 'MB')
  console.log(
    `${refused.length === 0 ? 'good' : 'BAD '}  refused or broken requests: ` +
      `${refused.length}${refused[0] ? ` (${refused[0]})` : ''}`,
  )
  await Promise.race([Promise.all([...working, watching]), setTimeout(30_000)])
} finally {
  protocol.close()
  await product.stop()
}
process.exit()

async function beat(id: string): Promise<void> {
  await setTimeout(Math.random() * BEAT_MS)
  while (!done) {
    await protocol
      .ask(`/api/agents/${id}/heartbeat`, {
        attempts: [...(held.get(id) ?? [])].map(([attemptId, lease]) => ({ attemptId, lease })),
      })
      .catch(broken)
    await setTimeout(BEAT_MS)
  }
}

function eventAt(i: number, agent: string) {
  if (i === 0) return { type: 'started', agent, facts: {} }
  const path = `main.${i >> 1}`
  if (i % 2 === 0) return { type: 'step-ended', path, outcome: 'passed', ms: 90 }
  return { type: 'step-started', path, words: { verb: 'note', object: 'a crossing', detail: '' } }
}

async function serve(id: string, seat: number): Promise<void> {
  const mine = held.get(id) ?? new Map<string, number>()
  held.set(id, mine)
  await setTimeout(Math.random() * HELD_MS) // seats of a real fleet do not ask all at once
  let work: Given['work'] = null
  while (!done) {
    if (!work) {
      const begun = performance.now()
      work =
        (await protocol.ask<Given>(`/api/agents/${id}/claim`, { waitMs: 20_000, seat }).catch(broken))
          ?.work ?? null
      if (!work) continue
      claims.push({ at: performance.now(), ms: performance.now() - begun })
    }
    const { attemptId, lease }: { attemptId: string; lease: number } = work
    mine.set(attemptId, lease)
    await setTimeout(HELD_MS * (0.5 + Math.random()))
    const events = Array.from({ length: EVENTS }, (_, i) => ({
      no: i + 1,
      atMs: i * 100,
      ...eventAt(i, id),
    }))
    // As our agents do: the end of one asks for the next, which is a claim like any other.
    const begun = performance.now()
    const answer: Given | undefined = await protocol
      .ask<Given>(`/api/agents/${id}/attempts/${attemptId}/finish`, {
        lease,
        result: { outcome: 'passed', ms: HELD_MS },
        events,
        next: { seat },
      })
      .catch(broken)
    mine.delete(attemptId)
    if (answer) ends.push(performance.now())
    work = answer?.work ?? null
    if (work) claims.push({ at: performance.now(), ms: performance.now() - begun })
  }
}

/** Somebody who asks again and again whether the server is there. */
function askMeanwhile(): { end(): Promise<number[]> } {
  const waits: number[] = []
  let over = false
  const ask = async () => {
    while (!over) {
      const begun = performance.now()
      await fetch(`${product.base}/api/health`)
      waits.push(performance.now() - begun)
      await setTimeout(20)
    }
  }
  const asking = ask()
  return {
    end: async () => {
      over = true
      await asking
      return waits
    },
  }
}

function broken(error: Error): undefined {
  if (!done) refused.push(error.message)
}

async function watchMemory(): Promise<void> {
  while (!done) {
    const kilobytes = Number(
      /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${product.web}/status`, 'utf8'))?.[1] ?? 0,
    )
    memory = Math.max(memory, kilobytes * 1024)
    await setTimeout(500)
  }
}
