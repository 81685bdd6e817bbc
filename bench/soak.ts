/** An hour of mixed load: runs one after the other, pages that misbehave in real browsers, people who try to
 * stop the web process, and forty kills. Prints what must hold of every run, how soon /api/health answered,
 * and what the web process took of memory. `OAK_SOAK_MINUTES`: another time than an hour. */
import { setTimeout } from 'node:timers/promises'
import { request as newRequest } from 'playwright-core'
import { DEEDS, hostileSite, slowUploads } from './attacks'
import { watchHealth } from './health'
import { childOf, killAtRandom, WEB } from './kills'
import { megabytesOf } from './memory'
import { Ledger } from './ledger'
import { OWN, startProduct } from './product'
import { quantile, report } from './report'

const PORT = 4900
const SEED = 11
const MINUTES = Number(process.env.OAK_SOAK_MINUTES ?? 60)
/** Forty in an hour. */
const KILLS = Math.max(1, Math.round((MINUTES * 40) / 60))
const LENGTH_MS = MINUTES * 60_000
const HEALTH_P99_MS = 50
const MEMORY_EVERY_MS = 5000
/** Of what the web process takes at the beginning. */
const MEMORY_GROWS_MOST = 1.25
const ENVIRONMENTS = [
  'chromium-windows',
  'firefox-windows',
  'chromium-macos',
  'webkit-macos',
  'android-handset',
]

process.env.OAK_LEASE_MS = '10000'
const product = await startProduct({ port: PORT, demo: true })
const ledger = new Ledger(product)
const site = await hostileSite()
const begun = performance.now()
const isOver = () => performance.now() - begun >= LENGTH_MS
const share = () => (performance.now() - begun) / LENGTH_MS
try {
  const admin = await as('tomas')
  await ledger.query(
    "insert into applications (key, title, address) values ('hostile', 'Hostile pages', $1)",
    [site.address],
  )
  for (const path of site.paths) {
    const key = `hostile-${path.slice(1)}`
    const source =
      `case: ${key}\ntitle: ${key}\nlimit: 20s\nsteps:\n  - open: hostile:${path}\n  - wait: { time: ` +
      `2s }\n  - read: { of: { text: never }, as: nothing }\n`
    await put(admin, `/api/definitions/case/${key}`, source)
  }
  await put(
    admin,
    '/api/definitions/suite/hostile',
    `suite: hostile\ntitle: Hostile ` +
      `pages\nentries:\n${site.paths.map((path) => `  - case: hostile-${path.slice(1)}\n`).join('')}`,
  )
  await put(
    admin,
    '/api/definitions/suite/mixed',
    'suite: mixed\ntitle: Mixed\nentries:\n  - suite: booking\n    repeat: 2\n  - suite: gate-and-manifest\n',
  )
  const pause = LENGTH_MS / KILLS
  const endHealth = watchHealth(PORT)
  const [memory, attacks, mixed, hostile, kills] = await Promise.all([
    watchMemory(),
    attack(),
    runAgain('mixed', ENVIRONMENTS),
    runAgain('hostile', ['chromium-debian']),
    killAtRandom(product, ledger, {
      kills: KILLS,
      pauseMs: [pause * 0.4, pause * 1.4],
      seed: SEED,
      isOver: async () => isOver(),
    }),
  ])
  const health = await endHealth()
  console.log(`      ${MINUTES} minutes; killed: ${words(kills)}; tried: ${words(attacks)}`)
  for (const run of [...mixed, ...hostile]) await ledger.untilEnded(run)
  for (const run of [...mixed, ...hostile]) {
    console.log(`\n      run ${run}`)
    await ledger.check(run)
  }
  console.log('')
  console.log(
    `      ${health.answers.length} answers of /api/health; ${health.none} times there was none, as ` +
      'the process or its database was down',
  )
  console.log(
    `      half within ${quantile(health.answers, 0.5).toFixed(1)} ms; who asked was itself late by ` +
      `${quantile(health.late, 0.99).toFixed(0)} ms at the 99th of 100`,
  )
  report('/api/health, 99 of 100 within', quantile(health.answers, 0.99), HEALTH_P99_MS, 'ms')
  console.log(
    `      memory of the web process: ${Math.round(memory.first)} MB in the first third, ` +
      `${Math.round(memory.last)} MB in the last, ${Math.round(memory.most)} MB at the most`,
  )
  report('memory in the last third beside the first', memory.last / memory.first, MEMORY_GROWS_MOST, '')
  if (quantile(health.answers, 0.99) > HEALTH_P99_MS || memory.last / memory.first > MEMORY_GROWS_MOST)
    ledger.wrong++
} finally {
  site.close()
  await product.stop()
}
process.exit(ledger.wrong > 0 ? 1 : 0)

async function as(username: string) {
  const request = await newRequest.newContext({ baseURL: product.base })
  await request.post('/api/sign-in', { headers: OWN, data: { username, password: product.password } })
  return request
}

async function put(request: Awaited<ReturnType<typeof as>>, path: string, source: string): Promise<void> {
  const answer = await request.put(path, { headers: OWN, data: { source, basedOn: 0 } })
  if (!answer.ok()) throw new Error(`${path}: ${await answer.text()}`)
}

/** One run after the other. @returns their numbers */
async function runAgain(suite: string, environments: string[]): Promise<number[]> {
  const request = await as('tomas')
  const runs: number[] = []
  while (!isOver()) {
    const started = await request
      .post('/api/runs', {
        headers: OWN,
        data: { suite, environments, build: '2026.11.3', retries: 1, limitMs: 120_000 },
      })
      .catch(() => undefined)
    if (!started?.ok()) {
      await setTimeout(2000) // it is down
      continue
    }
    const { id } = (await started.json()) as { id: number }
    runs.push(id)
    while (!isOver() && !(await ledger.hasEnded(id))) await setTimeout(1000)
  }
  return runs
}

/** A viewer tries one thing after the other. @returns how often each */
async function attack(): Promise<Record<string, number>> {
  const viewer = await as('edda')
  const tester = await as('priya')
  const tried: Record<string, number> = {}
  for (let n = 0; !isOver(); n++) {
    const deeds = Object.entries(DEEDS)
    const [name, deed] = deeds[n % deeds.length]!
    const letGo = n % 5 === 0 ? await slowUploads(tester, PORT, 30).catch(() => undefined) : undefined
    await Promise.all([deed(viewer), deed(viewer), deed(tester)].map((answer) => answer.catch(() => {})))
    tried[name] = (tried[name] ?? 0) + 1
    await setTimeout(1000)
    letGo?.()
  }
  return tried
}

async function watchMemory(): Promise<{ first: number; last: number; most: number }> {
  const [first, last]: [number[], number[]] = [[], []]
  let most = 0
  for (; !isOver(); await setTimeout(MEMORY_EVERY_MS)) {
    const now = megabytesOf(childOf(product, WEB))
    if (now === undefined) continue
    most = Math.max(most, now)
    if (share() < 1 / 3) first.push(now)
    if (share() > 2 / 3) last.push(now)
  }
  return { first: quantile(first, 0.5), last: quantile(last, 0.5), most }
}

function words(counts: Record<string, number>): string {
  return Object.entries(counts)
    .map(([name, n]) => `${name} ${n}`)
    .join(', ')
}
