/** Three cases whose checks look for two different things, and how one of them fails: two causes. */
import type { Failure } from '@/core/execution'
import { claimWork, finishAttempt } from '../../dispatch'
import { startRun } from '../../runs'
import { addAgent, simpleSuite, type TestContext } from '../../testing/context'

const checks = (key: string, target: string) =>
  `case: ${key}\ntitle: ${key.toUpperCase()}\nsteps:\n  - open: booking:/\n  - check: { of: { ` +
  `testId: ${target} }, text: { equals: so } }\n`

export const FAILING_FILES = {
  'a.case.yaml': checks('a', 'fare'),
  'b.case.yaml': checks('b', 'count'),
  'c.case.yaml': checks('c', 'count'),
  'all.suite.yaml': simpleSuite('all', ['a', 'b', 'c']),
}
export const CHECK_FAILED: Failure = {
  kind: 'check',
  path: 'main.1',
  message: 'The text is not what was expected',
}

/** A run of these in which all fails, with two causes: `count`, of two cases, and `fare`. */
export async function failedRun(
  ctx: TestContext,
  agent: Awaited<ReturnType<typeof addAgent>>,
  build = '1.0',
): Promise<number> {
  const start = { suite: 'all', environments: ['wide'], build, retries: 0, limitMs: 60_000 }
  const id = await startRun(ctx, start, 'Wren')
  for (let work = await claimWork(ctx, agent); work; work = await claimWork(ctx, agent))
    await finishAttempt(
      ctx,
      { agentId: agent.id, attemptId: work.attemptId, lease: work.lease },
      { outcome: 'failed', ms: 5, failure: CHECK_FAILED },
    )
  return id
}

/** A run of these that an agent of its own carries out. @param failing keys of the cases that fail */
export async function endedRun(
  ctx: TestContext,
  build: string,
  failing: readonly string[],
  most = Infinity,
): Promise<number> {
  const agent = await addAgent(ctx, `wide-${build}`, 1, ['wide'])
  const start = { suite: 'all', environments: ['wide'], build, retries: 0, limitMs: 60_000 }
  const id = await startRun(ctx, start, 'Wren')
  for (let i = 0; i < most; i++) {
    const work = await claimWork(ctx, agent)
    if (!work) break
    await finishAttempt(
      ctx,
      { agentId: agent.id, attemptId: work.attemptId, lease: work.lease },
      failing.includes(work.case.key)
        ? { outcome: 'failed', ms: 5, failure: CHECK_FAILED }
        : { outcome: 'passed', ms: 5 },
    )
  }
  return id
}
