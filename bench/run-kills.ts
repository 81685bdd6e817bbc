/** A run of 400 case runs while processes are killed at random: what must hold afterwards, holds. Prints counts beside what they have to be. */
import { execFileSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { createReadStream, existsSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout } from 'node:timers/promises'
import pg from 'pg'
import { randomFrom } from '@/core/execution'
import { OWN, signedIn, startProduct, type Product } from './product'

const PORT = 4900
const KILLS = 40
const SEED = 7
const [PAUSE_LEAST_MS, PAUSE_MOST_MS] = [1200, 4200]
const END_MOST_MS = 15 * 60_000
const ENVIRONMENTS = ['chromium-windows', 'firefox-windows', 'chromium-macos', 'webkit-macos', 'android-handset']
const SUITE = 'suite: chaos\ntitle: Four hundred\nentries:\n  - suite: booking\n    repeat: 4\n  - suite: gate-and-manifest\n    repeat: 2\n'
/** What may be killed, and how it is found among the launcher's children. */
const VICTIMS = [['web', /build\/web\.mjs|^next-server/], ['worker', /build\/worker\.mjs/], ['agents', /agent-fleet\.json/], ['postgres', undefined]] as const

process.env.OAK_LEASE_MS = '4000'
const random = randomFrom(SEED) // repeatable: the same seed kills in the same order
const product = await startProduct({ port: PORT, demo: true })
let wrong = 0
try {
  const { context, close } = await signedIn(product)
  await context.request.put('/api/definitions/suite/chaos', { headers: OWN, data: { source: SUITE, basedOn: 0 } })
  const started = await context.request.post('/api/runs', { headers: OWN, data: { suite: 'chaos', environments: ENVIRONMENTS, build: '2026.11.3', retries: 1, limitMs: 60_000 } })
  const { id } = (await started.json()) as { id: number }
  await close()
  const begun = Date.now()
  const kills = await killAtRandom(id)
  const ended = await untilEnded(id)
  console.log(`      ${Object.entries(kills).map(([name, n]) => `${name} ${n} times`).join(', ')}; ${ended ? `ended after ${Math.round((Date.now() - begun) / 1000)} s` : 'did not end'}`)
  await check(id, ended)
} finally {
  await product.stop()
}
process.exit(wrong > 0 ? 1 : 0)

async function killAtRandom(run: number): Promise<Record<string, number>> {
  const kills: Record<string, number> = {}
  for (let done = 0; done < KILLS; ) {
    await setTimeout(PAUSE_LEAST_MS + random() * (PAUSE_MOST_MS - PAUSE_LEAST_MS))
    if (await hasEnded(run)) break
    const [name, pattern] = VICTIMS[Math.floor(random() * VICTIMS.length)]!
    const pid = pattern ? childOf(product, pattern) : postmaster()
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

/** Where the launcher keeps PostgreSQL's data: in the system's temporary folder when PostgreSQL's user cannot enter ours. */
function dataOf(): string {
  const own = join(product.home, 'postgres', 'data')
  return existsSync(own) ? own : join(tmpdir(), `oak-postgres-${createHash('sha1').update(product.home).digest('hex').slice(0, 10)}`, 'data')
}

function postmaster(): number | undefined {
  const file = join(dataOf(), 'postmaster.pid')
  return existsSync(file) ? Number(readFileSync(file, 'utf8').split('\n')[0]) : undefined
}

async function query<T extends object>(sql: string, values: unknown[] = []): Promise<T[]> {
  const port = readFileSync(join(dataOf(), 'postmaster.pid'), 'utf8').split('\n')[3]
  const client = new pg.Client({ host: '127.0.0.1', port: Number(port), user: 'oak', database: 'oak', password: readFileSync(join(product.home, 'postgres-password'), 'utf8') })
  client.on('error', () => {})
  await client.connect()
  try {
    return (await client.query(sql, values)).rows as T[]
  } finally {
    await client.end().catch(() => {})
  }
}

async function hasEnded(run: number): Promise<boolean> {
  const [row] = await query<{ state: string }>('select state from runs where id = $1', [run]).catch(() => [])
  return row?.state === 'ended'
}

async function untilEnded(run: number): Promise<boolean> {
  for (const begun = Date.now(); Date.now() - begun < END_MOST_MS; await setTimeout(1000)) if (await hasEnded(run)) return true
  return false
}

async function check(run: number, ended: boolean): Promise<void> {
  const count = async (sql: string) => Number((await query<{ n: string }>(sql, [run]))[0]!.n)
  const exact = (name: string, value: number, expected: number) => {
    if (value !== expected) wrong++
    console.log(`${value === expected ? 'good' : 'BAD '}  ${name}: ${value}, must be ${expected}`)
  }
  const all = await count('select count(*) n from case_runs where run_id = $1')
  exact('the run has ended', Number(ended), 1)
  exact(`case runs of ${all} without an outcome`, await count(`select count(*) n from case_runs where run_id = $1 and (state <> 'ended' or outcome is null)`), 0)
  exact('open attempts', await count(`select count(*) n from attempts where run_id = $1 and state <> 'ended'`), 0)
  exact('case runs whose attempts are not numbered 1, 2, 3', await count(`select count(*) n from (select c.id from case_runs c left join attempts t on t.case_run_id = c.id where c.run_id = $1 group by c.id having count(t.id) <> c.attempts or coalesce(max(t.number), 0) <> c.attempts) x`), 0)
  exact('case runs with an attempt after one that passed', await count(`select count(*) n from attempts t join attempts u on u.case_run_id = t.case_run_id and u.number > t.number where t.run_id = $1 and t.outcome = 'passed'`), 0)
  exact('attempts of one case run at the same time', await count(`select count(*) n from attempts t join attempts u on u.case_run_id = t.case_run_id and u.number = t.number + 1 and u.claimed_at < t.ended_at where t.run_id = $1`), 0)
  exact('outcomes that do not follow from the attempts', await count(`select count(*) n from case_runs c where c.run_id = $1 and c.outcome in ('passed', 'recovered') <> exists (select from attempts t where t.case_run_id = c.id and t.outcome = 'passed')`), 0)
  exact('attempts with a gap in their log', await count(`select count(*) n from (select e.attempt_id from events e join attempts t on t.id = e.attempt_id where t.run_id = $1 group by 1 having max(no) <> count(*)) x`), 0)
  exact('attempts that were carried out and whose log does not end', await count(`select count(*) n from attempts t where t.run_id = $1 and t.outcome in ('passed', 'failed') and not exists (select from events e where e.attempt_id = t.id and e.body->>'type' = 'step-ended')`), 0)
  exact('names held alone that are left over', await count('select count(*) n from exclusive_holds where $1::int is not null'), 0)
  exact('pieces of evidence that are not readable', await unreadable(run), 0)
  const outcomes = await query<{ outcome: string; n: string }>('select outcome, count(*) n from case_runs where run_id = $1 group by 1 order by 2 desc', [run])
  const lost = await count(`select count(*) n from attempts where run_id = $1 and failure_kind = 'agent'`)
  console.log(`      ${outcomes.map(({ outcome, n }) => `${outcome} ${n}`).join(', ')}; ${lost} attempts were lost and done again`)
}

async function unreadable(run: number): Promise<number> {
  const used = await query<{ hash: string; there: boolean }>('select distinct u.hash, e.hash is not null as there from evidence_uses u join attempts t on t.id = u.attempt_id left join evidence e on e.hash = u.hash where t.run_id = $1', [run])
  let bad = 0
  for (const { hash, there } of used) if (!there || (await sha256(join(product.home, 'evidence', hash.slice(0, 2), hash.slice(2)))) !== hash) bad++
  console.log(`      ${used.length} pieces of evidence read again`)
  return bad
}

async function sha256(file: string): Promise<string | undefined> {
  const hash = createHash('sha256')
  try {
    for await (const part of createReadStream(file)) hash.update(part as Buffer)
  } catch {
    return undefined
  }
  return hash.digest('hex')
}
