/** What must hold of a run whatever fell while it went on: read from the database and the evidence folder,
 * and printed beside what it has to be. */
import { createHash } from 'node:crypto'
import { createReadStream, existsSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout } from 'node:timers/promises'
import pg from 'pg'
import type { Product } from './product'

const END_MOST_MS = 15 * 60_000

export class Ledger {
  wrong = 0

  constructor(private readonly product: Product) {}

  /** Process number of PostgreSQL. */
  postmaster(): number | undefined {
    const file = join(this.folder(), 'postmaster.pid')
    return existsSync(file) ? Number(readFileSync(file, 'utf8').split('\n')[0]) : undefined
  }

  async query<T extends object>(sql: string, values: unknown[] = []): Promise<T[]> {
    const port = readFileSync(join(this.folder(), 'postmaster.pid'), 'utf8').split('\n')[3]
    const client = new pg.Client({
      host: '127.0.0.1',
      port: Number(port),
      user: 'oak',
      database: 'oak',
      password: readFileSync(join(this.product.home, 'postgres-password'), 'utf8'),
    })
    client.on('error', () => {})
    await client.connect()
    try {
      return (await client.query(sql, values)).rows as T[]
    } finally {
      await client.end().catch(() => {})
    }
  }

  count = async (sql: string, run: number) => Number((await this.query<{ n: string }>(sql, [run]))[0]!.n)

  exact(name: string, value: number, expected: number): void {
    if (value !== expected) this.wrong++
    console.log(`${value === expected ? 'good' : 'BAD '}  ${name}: ${value}, must be ${expected}`)
  }

  async hasEnded(run: number): Promise<boolean> {
    const [row] = await this.query<{ state: string }>('select state from runs where id = $1', [run]).catch(
      () => [],
    )
    return row?.state === 'ended'
  }

  async untilEnded(run: number): Promise<boolean> {
    for (const begun = Date.now(); Date.now() - begun < END_MOST_MS; await setTimeout(1000))
      if (await this.hasEnded(run)) return true
    return false
  }

  async check(run: number): Promise<void> {
    const count = (sql: string) => this.count(sql, run)
    const exact = this.exact.bind(this)
    exact('the run has ended', Number(await this.hasEnded(run)), 1)
    const all = await count('select count(*) n from case_runs where run_id = $1')
    exact(
      `case runs of ${all} without an outcome`,
      await count(
        `select count(*) n from case_runs where run_id = $1 and (state <> 'ended' or outcome is null)`,
      ),
      0,
    )
    exact(
      'open attempts',
      await count(`select count(*) n from attempts where run_id = $1 and state <> 'ended'`),
      0,
    )
    exact(
      'case runs whose attempts are not numbered 1, 2, 3',
      await count(
        `select count(*) n from (select c.id from case_runs c left join attempts t on t.case_run_id = c.id
          where c.run_id = $1 group by c.id having count(t.id) <> c.attempts
          or coalesce(max(t.number), 0) <> c.attempts) x`,
      ),
      0,
    )
    exact(
      'case runs with an attempt after one that passed',
      await count(
        `select count(*) n from attempts t join attempts u on u.case_run_id = t.case_run_id
          and u.number > t.number where t.run_id = $1 and t.outcome = 'passed'`,
      ),
      0,
    )
    exact(
      'attempts of one case run at the same time',
      await count(
        `select count(*) n from attempts t join attempts u on u.case_run_id = t.case_run_id
          and u.number = t.number + 1 and u.claimed_at < t.ended_at where t.run_id = $1`,
      ),
      0,
    )
    exact(
      'outcomes that do not follow from the attempts',
      await count(
        `select count(*) n from case_runs c where c.run_id = $1
          and c.outcome in ('passed', 'recovered') <> exists (select from attempts t
          where t.case_run_id = c.id and t.outcome = 'passed')`,
      ),
      0,
    )
    exact(
      'attempts with a gap in their log',
      await count(
        `select count(*) n from (select e.attempt_id from events e join attempts t on t.id = e.attempt_id
          where t.run_id = $1 and t.log_in_rows group by 1 having max(no) <> count(*)
          union all select l.attempt_id from attempt_logs l join attempts t on t.id = l.attempt_id
          where t.run_id = $1 and l.events <> l.last_no) x`,
      ),
      0,
    )
    exact(
      'attempts that were carried out and whose log does not end',
      await count(
        `select count(*) n from attempts t where t.run_id = $1 and t.outcome in ('passed', 'failed') and t.log_in_rows
          and not exists (select from events e where e.attempt_id = t.id and e.body->>'type' = 'step-ended')`,
      ),
      0,
    )
    exact(
      'names held alone that are left over',
      await count('select count(*) n from exclusive_holds where $1::int is not null'),
      0,
    )
    exact('pieces of evidence that are not readable', await this.unreadable(run), 0)
    const outcomes = await this.query<{ outcome: string; n: string }>(
      'select outcome, count(*) n from case_runs where run_id = $1 group by 1 order by 2 desc',
      [run],
    )
    const lost = await count(`select count(*) n from attempts where run_id = $1 and failure_kind = 'agent'`)
    console.log(
      `      ${outcomes.map(({ outcome, n }) => `${outcome} ${n}`).join(', ')}; ${lost} attempts were ` +
        'lost and done again',
    )
  }

  private async unreadable(run: number): Promise<number> {
    const used = await this.query<{ hash: string; there: boolean }>(
      'select distinct u.hash, e.hash is not null as there from evidence_uses u join attempts t on ' +
        't.id = u.attempt_id left join evidence e on e.hash = u.hash where t.run_id = $1',
      [run],
    )
    let bad = 0
    for (const { hash, there } of used)
      if (
        !there ||
        (await sha256(join(this.product.home, 'evidence', hash.slice(0, 2), hash.slice(2)))) !== hash
      )
        bad++
    console.log(`      ${used.length} pieces of evidence read again`)
    return bad
  }

  /** Where the launcher keeps PostgreSQL's data: in the system's temporary folder when PostgreSQL's user
   * cannot enter ours. */
  private folder(): string {
    const own = join(this.product.home, 'postgres', 'data')
    return existsSync(own)
      ? own
      : join(
          tmpdir(),
          `oak-postgres-${createHash('sha1').update(this.product.home).digest('hex').slice(0, 10)}`,
          'data',
        )
  }
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
