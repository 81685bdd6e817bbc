/** The network between an agent and the server is cut for a minute in the middle of a run, twice as long as a
 * lease: others take over, the agent comes back, what it says too late is refused, and both sides say so. */
import { spawn } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { connect, createServer, type AddressInfo, type Socket } from 'node:net'
import { join } from 'node:path'
import { setTimeout } from 'node:timers/promises'
import { Ledger } from './ledger'
import { OWN, signedIn, startProduct } from './product'

const [BEFORE_MS, CUT_MS] = [10_000, 60_000]
const NAME = 'cut-off'
const SUITE =
  'suite: cut\ntitle: Through a minute without network\nentries:\n  - suite: booking\n    repeat: 24\n'

const product = await startProduct({ port: 4970, demo: true })
const ledger = new Ledger(product)
const wire = await layWire(Number(new URL(product.base).port))
const config = join(product.home, 'cut.json')
writeFileSync(
  config,
  JSON.stringify({
    server: `http://127.0.0.1:${wire.port}`,
    token: `oak_agent_${readFileSync(join(product.home, 'agent-token'), 'utf8')}`,
    agents: [{ name: NAME, pool: 'Windows', seats: 4, environments: ['chromium-windows'], simulated: true }],
  }),
)
const agent = spawn(process.execPath, ['build/agent.mjs', '--config', config], {
  stdio: ['ignore', 'pipe', 'pipe'],
  env: { ...process.env, OAK_HOME: join(product.home, 'cut') },
})
let said = ''
for (const stream of [agent.stdout, agent.stderr])
  stream.on('data', (part: Buffer) => void (said += String(part)))
const { context, close } = await signedIn(product)
try {
  const ofAgent = async () =>
    (
      (await (await context.request.get('/api/fleet')).json()) as {
        agents: { name: string; alive: boolean }[]
      }
    ).agents.find(({ name }) => name === NAME)
  while (!(await ofAgent())?.alive) await setTimeout(500)
  const put = await context.request.put('/api/definitions/suite/cut', {
    headers: OWN,
    data: { source: SUITE, basedOn: 0 },
  })
  if (!put.ok()) throw new Error(await put.text())
  const started = await context.request.post('/api/runs', {
    headers: OWN,
    data: {
      suite: 'cut',
      environments: ['chromium-windows'],
      build: '2026.11.1',
      retries: 0,
      limitMs: 120_000,
    },
  })
  if (!started.ok()) throw new Error(await started.text())
  const { id } = (await started.json()) as { id: number }
  await setTimeout(BEFORE_MS)
  const [{ n: held }] = (await ledger.query<{ n: number }>(
    `select count(*)::int n from attempts where agent_name = $1 and state <> 'ended'`,
    [NAME],
  )) as [{ n: number }]
  const [{ at }] = (await ledger.query<{ at: string }>('select clock_timestamp()::text at')) as [
    { at: string },
  ]
  wire.cut()
  await setTimeout(CUT_MS)
  const during = await ofAgent()
  wire.mend()
  const ended = await ledger.untilEnded(id)
  while (ended && !(await ofAgent())?.alive) await setTimeout(500)
  const lost = await ledger.query<{ late: string | null }>(
    `select late_result late from attempts where agent_name = $1 and failure_kind = 'agent'`,
    [NAME],
  )
  ledger.exact('attempts it held, lost with their leases', lost.length, held)
  ledger.exact('the fleet says it is not there', Number(during?.alive === false), 1)
  ledger.exact(
    'results that came too late: refused, kept on the attempt',
    lost.filter(({ late }) => late !== null).length,
    held,
  )
  ledger.exact('and said by the agent', said.match(/came too late and was refused/g)?.length ?? 0, held)
  ledger.exact('it said that the server does not answer', Number(said.includes('no answer from')), 1)
  const after = await ledger.query<{ n: number }>(
    `select count(*)::int n from attempts where agent_name = $1
      and claimed_at > $2::timestamptz + make_interval(secs => $3) and outcome <> 'errored'`,
    [NAME, at, CUT_MS / 1000],
  )
  console.log(
    `${after[0]!.n > 0 ? 'good' : 'BAD '}  attempts it did after it was back: ${after[0]!.n}, at least 1`,
  )
  if (after[0]!.n === 0) ledger.wrong++
  await ledger.check(id)
} finally {
  agent.kill('SIGTERM')
  wire.close()
  await close()
  await product.stop()
}
process.exit(ledger.wrong > 0 ? 1 : 0)

/** A wire to the server that can be cut: nothing goes through, in either direction, and nobody is told. */
async function layWire(to: number): Promise<{ port: number; cut(): void; mend(): void; close(): void }> {
  const open = new Set<Socket>()
  let isCut = false
  const server = createServer((near) => {
    const far = connect(to, '127.0.0.1')
    for (const [one, other] of [
      [near, far],
      [far, near],
    ] as const) {
      open.add(one)
      if (isCut) one.pause()
      one.on('data', (part) => void other.write(part))
      one.on('close', () => {
        open.delete(one)
        if (!isCut) other.destroy() // who hangs up during the cut is not heard
      })
      one.on('error', () => {})
    }
    if (isCut) for (const one of [near, far]) one.pause()
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return {
    port: (server.address() as AddressInfo).port,
    cut: () => {
      isCut = true
      for (const one of open) one.pause()
    },
    mend: () => {
      isCut = false
      for (const one of open) one.resume()
    },
    close: () => {
      server.close()
      for (const one of open) one.destroy()
    },
  }
}
