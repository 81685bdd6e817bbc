/** One agent with a real Chromium over 500 attempts: its memory after 100 and after 500, and what it leaves
 * behind. */
import { spawn } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { setTimeout } from 'node:timers/promises'
import { OWN, signedIn, startProduct } from './product'
import { report } from './report'

const [ATTEMPTS, FIRST, SEATS] = [500, 100, 4]
/** Of the agent's own process: what may come on top between the two. */
const GROWTH_MOST = 1.15
/** An entry repeats a hundred times at most. */
const CASES = [
  'reference-not-booked',
  'too-many-passengers',
  'two-different-ports',
  'unknown-reference',
  'name-is-needed',
]
const entryOf = (key: string) => `  - case: ${key}\n    repeat: ${ATTEMPTS / CASES.length}\n`
const SUITE = `suite: many\ntitle: Many\nentries:\n${CASES.map(entryOf).join('')}`

const product = await startProduct({ port: 4940, demo: true })
const { context, close } = await signedIn(product)
const post = (path: string, data: object) => context.request.post(path, { headers: OWN, data })
const agent = spawn(process.execPath, ['build/agent.mjs'], {
  stdio: 'ignore',
  env: {
    ...process.env,
    OAK_HOME: join(product.home, 'measured'),
    OAK_SERVER: product.base,
    OAK_TOKEN: `oak_agent_${readFileSync(join(product.home, 'agent-token'), 'utf8')}`,
    OAK_AGENT_NAME: 'measured',
    OAK_AGENT_POOL: 'Measured',
    OAK_AGENT_SEATS: String(SEATS),
    OAK_AGENT_ENVIRONMENTS: 'chromium-debian',
  },
})
try {
  const put = await context.request.put('/api/definitions/suite/many', {
    headers: OWN,
    data: { source: SUITE, basedOn: 0 },
  })
  if (!put.ok()) throw new Error(await put.text())
  const fleet = async () =>
    (
      (await (await context.request.get('/api/fleet')).json()) as {
        agents: { id: string; name: string; environments: string[]; simulated: boolean; draining: boolean }[]
      }
    ).agents
  while (!(await fleet()).some(({ name }) => name === 'measured')) await setTimeout(500)
  /** Others that would take of the work, whenever they come. */
  const drainOthers = async () => {
    for (const { id, name, simulated, draining, environments } of await fleet())
      if (name !== 'measured' && !simulated && !draining && environments.includes('chromium-debian'))
        await post(`/api/fleet/${id}/drain`, { draining: true })
  }
  await drainOthers()
  const started = await post('/api/runs', {
    suite: 'many',
    environments: ['chromium-debian'],
    build: '2026.11.1',
    retries: 0,
    limitMs: 60_000,
  })
  if (!started.ok()) throw new Error(await started.text())
  const { id } = (await started.json()) as { id: number }
  let first: { own: number; browsers: number } | undefined
  let last = { own: 0, browsers: 0 }
  for (;;) {
    await setTimeout(1000)
    await drainOthers()
    const {
      run: { counts, state },
    } = (await (await context.request.get(`/api/runs/${id}`)).json()) as {
      run: { counts: Record<string, number>; state: string }
    }
    const done = counts.passed! + counts.failed! + counts.errored!
    const memory = memoryOf(agent.pid!)
    if (memory.own > 0) last = memory
    if (!first && done >= FIRST) first = last
    if (state === 'ended') {
      console.log(
        `      ${done} attempts: ${Object.entries(counts)
          .filter(([, n]) => n > 0)
          .map(([mark, n]) => `${mark} ${n}`)
          .join(', ')}`,
      )
      break
    }
  }
  report(
    `memory of the agent after ${ATTEMPTS} attempts against ${FIRST}`,
    last.own / first!.own,
    GROWTH_MOST,
    'times',
  )
  console.log(
    `      agent ${mega(first!.own)} MB, then ${mega(last.own)} MB; its browsers ` +
      `${mega(first!.browsers)} MB, then ${mega(last.browsers)} MB`,
  )
} finally {
  agent.kill('SIGTERM')
  await new Promise((resolve) => agent.once('exit', resolve))
  const left = processes().filter(({ line }) => line.includes(join(product.home, 'measured')))
  console.log(
    `${left.length === 0 ? 'good' : 'BAD '}  processes the agent left behind: ${left.length}, must be 0`,
  )
  await close()
  await product.stop()
}
process.exit()

function mega(bytes: number): number {
  return Math.round(bytes / 1e6)
}

type Process = { pid: number; parent: number; line: string; bytes: number }

function processes(): Process[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .flatMap((pid): Process[] => {
      try {
        const status = readFileSync(`/proc/${pid}/status`, 'utf8')
        const number = (name: string) => Number(new RegExp(`^${name}:\\s+(\\d+)`, 'm').exec(status)?.[1] ?? 0)
        return [
          {
            pid: Number(pid),
            parent: number('PPid'),
            line: readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' '),
            bytes: number('VmRSS') * 1024,
          },
        ]
      } catch {
        return [] // gone between the two
      }
    })
}

/** Of a process, and of all it has started. */
function memoryOf(pid: number): { own: number; browsers: number } {
  const all = processes()
  const below = (parent: number): Process[] =>
    all.filter((one) => one.parent === parent).flatMap((one) => [one, ...below(one.pid)])
  return {
    own: all.find((one) => one.pid === pid)?.bytes ?? 0,
    browsers: below(pid).reduce((sum, { bytes }) => sum + bytes, 0),
  }
}
