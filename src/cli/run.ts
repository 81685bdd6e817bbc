/** ./oak run ROTATION: starts it on the server, and waits for its end if asked to. */
import { writeFileSync } from 'node:fs'
import { setTimeout } from 'node:timers/promises'
import { junitOf, runReport } from '@/core/reports'
import type { Comparison, RunProgress, RunViewModel } from '@/core/view-models'
import { CliProblem, type Options } from './options'

const [GOOD, FAILURES, COULD_NOT_RUN] = [0, 1, 2]
const LOOK_MS = 300
/** A server that is away for longer than this while one waits is given up. */
const AWAY_MOST_MS = 300_000

type Answer = { run: number; address: string } | { message: string }

/** @returns 0: all passed or recovered (or started, without --wait); 1: there are failures; 2: it could not
 * run */
export async function runCommand(given: Options): Promise<number> {
  const {
    rest: [rotation, ...more],
    server = 'http://127.0.0.1:4600',
    token,
    build,
    set,
    wait,
    junit,
  } = given
  if (rotation === undefined || more.length > 0)
    throw new CliProblem(
      'run wants one rotation: ./oak run ROTATION [--build B] [--set NAME=VALUE] [--wait] [--junit FILE]',
    )
  if (!token) throw new CliProblem('OAK_TOKEN is not set: make a CI token in Settings')
  const answer = await ask<Answer>(
    new URL(`/api/rotations/${encodeURIComponent(rotation)}/run`, server),
    token,
    { ...(build !== undefined && { build }), ...(Object.keys(set).length > 0 && { with: set }) },
  ).catch((error: Error) => ({
    message: `no answer from ${server}: ${(error.cause as Error | undefined)?.message ?? error.message}`,
  }))
  if (!('run' in answer)) {
    console.error(`error: ${answer.message}`)
    return COULD_NOT_RUN
  }
  console.log(new URL(answer.address, server).href)
  if (!wait && junit === undefined) return GOOD
  const address = new URL(`/api/runs/${answer.run}`, server)
  if (!(await ended(`${address.href}/progress`, token))) return COULD_NOT_RUN
  const viewModel = await ask<RunViewModel>(address, token)
  if (junit !== undefined) {
    const compared = await ask<Comparison[]>(`${address.href}/comparisons`, token)
    writeFileSync(junit, junitOf(runReport(viewModel, compared)))
  }
  return verdict(viewModel)
}

/** Failures in quarantine do not count. */
export function verdict({ run: { counts, quarantined = 0 } }: Pick<RunViewModel, 'run'>): number {
  if (counts.failed + counts.errored - quarantined + counts.cancelled > 0) return FAILURES
  return counts.passed + counts.recovered > 0 ? GOOD : COULD_NOT_RUN
}

async function ask<T>(url: URL | string, token: string, body?: object): Promise<T> {
  const response = await fetch(url, {
    method: body ? 'POST' : 'GET',
    headers: { authorization: `Bearer ${token}`, ...(body && { 'content-type': 'application/json' }) },
    ...(body && { body: JSON.stringify(body) }),
  })
  return (await response.json()) as T
}

/** Progress on standard error, a line when something changed. @returns whether it ended; not when the server
 * stays away */
async function ended(url: string, token: string): Promise<boolean> {
  let [said, seenAt] = ['', performance.now()]
  for (;;) {
    const answer = await ask<RunProgress | { message: string }>(url, token).catch(() => undefined)
    if (answer && 'state' in answer) {
      seenAt = performance.now()
      const line = progress(answer)
      if (line !== said) console.error((said = line))
      if (answer.state === 'ended') return true
    } else if (performance.now() - seenAt > AWAY_MOST_MS) {
      console.error(
        `error: ${answer ? answer.message : 'the server does not answer any more'}; the run goes on ` +
          'without this',
      )
      return false
    }
    await setTimeout(LOOK_MS)
  }
}

function progress({ counts }: RunProgress): string {
  const all = Object.values(counts).reduce((sum, n) => sum + n, 0)
  const open = counts.waiting + counts.claimed + counts.running
  const bad = [
    counts.failed > 0 && `${counts.failed} failed`,
    counts.errored > 0 && `${counts.errored} errored`,
    counts.recovered > 0 && `${counts.recovered} recovered`,
  ].filter(Boolean)
  return `${all - open} of ${all}${bad.length > 0 ? `, ${bad.join(', ')}` : ''}`
}
