/** A run of 400 case runs while processes are killed at random: what must hold afterwards, holds. Prints counts beside what they have to be. */
import { execFileSync } from 'node:child_process'
import { setTimeout } from 'node:timers/promises'
import { randomFrom } from '@/core/execution'
import { Ledger } from './ledger'
import { OWN, signedIn, startProduct, type Product } from './product'

const PORT = 4900
const KILLS = 40
const SEED = 7
const [PAUSE_LEAST_MS, PAUSE_MOST_MS] = [1200, 4200]
const ENVIRONMENTS = ['chromium-windows', 'firefox-windows', 'chromium-macos', 'webkit-macos', 'android-handset']
const SUITE = 'suite: chaos\ntitle: Four hundred\nentries:\n  - suite: booking\n    repeat: 4\n  - suite: gate-and-manifest\n    repeat: 2\n'
/** What may be killed, and how it is found among the launcher's children. */
const VICTIMS = [['web', /build\/web\.mjs|^next-server/], ['worker', /build\/worker\.mjs/], ['agents', /agent-fleet\.json/], ['postgres', undefined]] as const

process.env.OAK_LEASE_MS = '4000'
const random = randomFrom(SEED) // repeatable: the same seed kills in the same order
const product = await startProduct({ port: PORT, demo: true })
const ledger = new Ledger(product)
try {
  const { context, close } = await signedIn(product)
  await context.request.put('/api/definitions/suite/chaos', { headers: OWN, data: { source: SUITE, basedOn: 0 } })
  const started = await context.request.post('/api/runs', { headers: OWN, data: { suite: 'chaos', environments: ENVIRONMENTS, build: '2026.11.3', retries: 1, limitMs: 60_000 } })
  const { id } = (await started.json()) as { id: number }
  await close()
  const begun = Date.now()
  const kills = await killAtRandom(id)
  const ended = await ledger.untilEnded(id)
  console.log(`      ${Object.entries(kills).map(([name, n]) => `${name} ${n} times`).join(', ')}; ${ended ? `ended after ${Math.round((Date.now() - begun) / 1000)} s` : 'did not end'}`)
  await ledger.check(id)
} finally {
  await product.stop()
}
process.exit(ledger.wrong > 0 ? 1 : 0)

async function killAtRandom(run: number): Promise<Record<string, number>> {
  const kills: Record<string, number> = {}
  for (let done = 0; done < KILLS; ) {
    await setTimeout(PAUSE_LEAST_MS + random() * (PAUSE_MOST_MS - PAUSE_LEAST_MS))
    if (await ledger.hasEnded(run)) break
    const [name, pattern] = VICTIMS[Math.floor(random() * VICTIMS.length)]!
    const pid = pattern ? childOf(product, pattern) : ledger.postmaster()
    if (!pid) continue // it is down already, and not up again yet
    try {
      process.kill(pid, 'SIGKILL')
      kills[name] = (kills[name] ?? 0) + 1
      done++
    } catch {} // gone between the two
  }
  return kills
}

/** Process number of a child of the launcher. */
function childOf({ launcher }: Product, pattern: RegExp): number | undefined {
  const lines = execFileSync('ps', ['-o', 'pid=,ppid=,args=', '-e'], { encoding: 'utf8' }).split('\n')
  const line = lines.map((text) => /^\s*(\d+)\s+(\d+)\s+(.*)$/.exec(text)).find((found) => found && Number(found[2]) === launcher && pattern.test(found[3]!))
  return line ? Number(line[1]) : undefined
}
