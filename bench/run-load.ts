/** 200 simulated agents with 600 seats against one web process, on one run of 20,000 case runs: how long claims take, how many case runs a second, what memory. */
import { readFileSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { join } from 'node:path'
import { setTimeout } from 'node:timers/promises'
import { OWN, signedIn, startProduct } from './product'
import { quantile, report } from './report'

const PORT = 4920
const [AGENTS, SEATS] = [200, 3]
const ENVIRONMENTS = ['wide', 'narrow', 'tall', 'small']
const [CASES, REPEATS] = [50, 100]
/** An attempt is held for so long: 600 seats then could do 320 a second. */
const HELD_MS = 1870
const EVENTS = 12
const [WARM_MS, MEASURED_MS] = [15_000, 45_000]
const BEAT_MS = 5000

const product = await startProduct({ port: PORT, demo: false })
const sockets = new Agent({ keepAlive: true, maxSockets: 900 })
let token = ''
const claims: { at: number; ms: number }[] = []
const ends: number[] = []
const refused: string[] = []
/** Leases by attempt, by agent. */
const held = new Map<string, Map<string, number>>()
let memory = 0
let done = false

try {
  const { context, close } = await signedIn(product)
  const put = (path: string, data: object) => context.request.put(path, { headers: OWN, data })
  await put('/api/environments', ENVIRONMENTS.map((key) => ({ key, title: key, browser: 'Chromium', os: 'Debian', width: 800, height: 600, locale: 'en-GB', simulated: true })))
  const keys = Array.from({ length: CASES }, (_, i) => `crossing-${i}`)
  for (const key of keys) await put(`/api/definitions/case/${key}`, { source: `case: ${key}\ntitle: ${key}\nsteps:\n  - note: a crossing\n  - note: another\n`, basedOn: 0 })
  const suite = `suite: load\ntitle: Load\nentries:\n${keys.map((key) => `  - case: ${key}\n    repeat: ${REPEATS}\n`).join('')}`
  const kept = await put('/api/definitions/suite/load', { source: suite, basedOn: 0 })
  if (!kept.ok()) throw new Error(await kept.text())
  token = `oak_agent_${readFileSync(join(product.home, 'agent-token'), 'utf8')}` // the one of local agents, good for any name
  const agents = await Promise.all(Array.from({ length: AGENTS }, (_, i) => register(i)))
  const begun = performance.now()
  const started = await context.request.post('/api/runs', { headers: OWN, timeout: 300_000, data: { suite: 'load', environments: ENVIRONMENTS, build: '1.0', retries: 0, limitMs: 60_000 } })
  if (!started.ok()) throw new Error(await started.text())
  console.log(`      a run of ${CASES * REPEATS * ENVIRONMENTS.length} case runs was planned and laid out in ${((performance.now() - begun) / 1000).toFixed(1)} s`)
  await close()
  const from = performance.now()
  const working = agents.flatMap((id) => [beat(id), ...Array.from({ length: SEATS }, (_, i) => serve(id, i + 1))])
  const watching = watchMemory()
  await setTimeout(WARM_MS + MEASURED_MS)
  done = true
  const within = (at: number) => at >= from + WARM_MS && at < from + WARM_MS + MEASURED_MS
  const measured = claims.filter(({ at }) => within(at)).map(({ ms }) => ms)
  report('claim, 95th of 100', quantile(measured, 0.95), 100, 'ms')
  console.log(`      median ${quantile(measured, 0.5).toFixed(0)} ms, slowest ${Math.max(...measured).toFixed(0)} ms, ${measured.length} claims`)
  const rate = ends.filter(within).length / (MEASURED_MS / 1000)
  console.log(`${(300 / rate).toFixed(2)}  case runs a second: ${rate.toFixed(0)}, at least 300, each with ${EVENTS} events stored`)
  report('memory of the web process', memory / 1e6, 600, 'MB')
  console.log(`${refused.length === 0 ? 'good' : 'BAD '}  refused or broken requests: ${refused.length}${refused[0] ? ` (${refused[0]})` : ''}`)
  await Promise.race([Promise.all([...working, watching]), setTimeout(30_000)])
} finally {
  sockets.destroy()
  await product.stop()
}
process.exit()

async function register(i: number): Promise<string> {
  const { id } = await ask<{ id: string }>('/api/agents/register', { name: `load-${i}`, instance: 'first', pool: 'Load', version: '1', seats: SEATS, environments: [ENVIRONMENTS[i % 4]!, ENVIRONMENTS[(i + 1) % 4]!], simulated: true })
  return id
}

async function beat(id: string): Promise<void> {
  await setTimeout(Math.random() * BEAT_MS)
  while (!done) {
    await ask(`/api/agents/${id}/heartbeat`, { attempts: [...(held.get(id) ?? [])].map(([attemptId, lease]) => ({ attemptId, lease })) }).catch(broken)
    await setTimeout(BEAT_MS)
  }
}

type Given = { work: { attemptId: string; lease: number } | null }

async function serve(id: string, seat: number): Promise<void> {
  const mine = held.get(id) ?? new Map<string, number>()
  held.set(id, mine)
  await setTimeout(Math.random() * HELD_MS) // seats of a real fleet do not ask all at once
  let work: Given['work'] = null
  while (!done) {
    if (!work) {
      const begun = performance.now()
      work = (await ask<Given>(`/api/agents/${id}/claim`, { waitMs: 20_000, seat }).catch(broken))?.work ?? null
      if (!work) continue
      claims.push({ at: performance.now(), ms: performance.now() - begun })
    }
    const { attemptId, lease }: { attemptId: string; lease: number } = work
    mine.set(attemptId, lease)
    await setTimeout(HELD_MS)
    const events = Array.from({ length: EVENTS }, (_, i) => ({ no: i + 1, atMs: i * 100, ...(i === 0 ? { type: 'started', agent: id, facts: {} } : i % 2 ? { type: 'step-started', path: `main.${i >> 1}`, words: { verb: 'note', object: 'a crossing', detail: '' } } : { type: 'step-ended', path: `main.${i >> 1}`, outcome: 'passed', ms: 90 }) }))
    // As our agents do: the end of one asks for the next, which is a claim like any other.
    const begun = performance.now()
    const answer: Given | undefined = await ask<Given>(`/api/agents/${id}/attempts/${attemptId}/finish`, { lease, result: { outcome: 'passed', ms: HELD_MS }, events, next: { seat } }).catch(broken)
    mine.delete(attemptId)
    if (answer) ends.push(performance.now())
    work = answer?.work ?? null
    if (work) claims.push({ at: performance.now(), ms: performance.now() - begun })
  }
}

function broken(error: Error): undefined {
  if (!done) refused.push(error.message)
}

async function watchMemory(): Promise<void> {
  while (!done) {
    const kilobytes = Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${product.web}/status`, 'utf8'))?.[1] ?? 0)
    memory = Math.max(memory, kilobytes * 1024)
    await setTimeout(500)
  }
}

/** Not `fetch`: what asks must cost less than what answers. */
function ask<T>(path: string, body: unknown): Promise<T> {
  return new Promise((resolve, reject) => {
    const text = JSON.stringify(body)
    const out = request({ host: '127.0.0.1', port: PORT, path, method: 'POST', agent: sockets, headers: { 'content-type': 'application/json', 'content-length': Buffer.byteLength(text), authorization: `Bearer ${token}` } }, (response) => {
      let said = ''
      response.setEncoding('utf8').on('data', (part: string) => { said += part }).on('error', reject)
      response.on('end', () => ((response.statusCode ?? 500) < 300 ? resolve((said === '' ? undefined : JSON.parse(said)) as T) : reject(new Error(`${path}: ${response.statusCode} ${said.slice(0, 200)}`))))
    })
    out.on('error', reject)
    out.end(text)
  })
}
