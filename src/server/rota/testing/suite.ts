/** A rotation over a suite of two cases, and what came of a run of it. */
import { asc, eq, sql } from 'drizzle-orm'
import { at as moment } from '@/db/moment'
import type { Work } from '@/core/execution'
import type { AgentRow } from '@/db/agents'
import { caseRuns } from '@/db/schema'
import type { Context } from '../../context'
import { claimWork, finishAttempt } from '../../dispatch'
import { seedFiles, simpleCase, simpleSuite, testContext, type TestContext } from '../../testing/context'

export let ctx: TestContext

export const rotation = (key: string, more: string) =>
  `rotation: ${key}\ntitle: ${key.toUpperCase()}\nwhat: [{ suite: one }]\nretries: 0\n${more}`

export const keep = (key: string, more: string) =>
  seedFiles(ctx, { [`${key}.rotation.yaml`]: rotation(key, more) })

export const at = (instant: string): Context => ({ ...ctx, now: moment(new Date(instant)) })

export const all = async (run: number) =>
  await ctx.db
    .select()
    .from(caseRuns)
    .where(eq(caseRuns.runId, run))
    .orderBy(asc(caseRuns.position), asc(caseRuns.agent), asc(caseRuns.environment))

export const lines = async (run: number) =>
  (await all(run)).map(({ caseKey, environment, agent, state, outcome }) =>
    [caseKey, environment, agent, outcome ?? state].filter(Boolean).join(' '),
  )

export const end = (work: Work, outcome: 'passed' | 'failed', handoffs?: Record<string, string>) =>
  finishAttempt(ctx, work, {
    outcome,
    ms: 1000,
    ...(outcome === 'failed' && { failure: { kind: 'check' as const, message: 'it is 3' } }),
    ...(handoffs && { handoffs }),
  })

export const claim = async (agent: AgentRow) => (await claimWork(ctx, agent))!

/** A workspace with one suite, empty of runs before each test of a file. */
export function withSuite(): void {
  beforeAll(async () => {
    ctx = await testContext()
    await seedFiles(ctx, {
      'a.case.yaml': simpleCase('a', 'tags: [x]\n'),
      'b.case.yaml': simpleCase('b', 'tags: [x]\n'),
      'c.case.yaml': simpleCase('c'),
      'one.suite.yaml': simpleSuite('one', ['a', 'b']),
      'fetch.routine.yaml': 'routine: fetch\ntitle: Fetch\nsteps:\n  - open: booking:/\n',
    })
  })
  afterAll(() => ctx.end())
  beforeEach(async () => {
    await ctx.db.execute(sql`truncate runs, agents, occurrence_starts, rota_marks, settings cascade`)
    await ctx.db.execute(sql`delete from definitions where kind = 'rotation'`)
  })
}
