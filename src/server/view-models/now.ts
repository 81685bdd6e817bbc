import {
  briefing,
  greeting,
  type DayStripViewModel,
  type FinishForecast,
  type NowViewModel,
  type RunLine,
  type SeatTile,
} from '@/core/view-models'
import { endedOf, totalOf } from '@/core/execution'
import { listAgents, type AgentViewModel } from '@/db/agents'
import { definitionsOf, listRepositories } from '@/db/definitions'
import { listApplications, listBuilds } from '@/db/workspace'
import { listDefects } from '@/db/defects'
import { newlyFailing } from '@/db/case-history'
import { openRuns, recentRuns, runsBetween, type RunViewModel } from '@/db/runs'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'
import { rotaViewModel } from './rota'
import { waitingItems } from './waiting'

const HOUR_MS = 3_600_000
const DAY_MS = 24 * HOUR_MS
const LATELY_RUNS = 8

const iso = (moment: Date | string | null) => (moment === null ? null : new Date(moment).toISOString())

export function runLine(run: RunViewModel): RunLine {
  const { id, title, build, suiteKey, state, paused, startedBy, counts, quarantined, failingCases } = run
  return {
    id,
    title,
    build,
    suiteKey,
    state,
    paused,
    startedBy,
    counts,
    quarantined,
    failingCases,
    // people take their time: nobody forecasts it
    finish: state === 'ended' || run.kind === 'guided' ? null : (run.finish ?? firstFinish(run)),
    createdAt: iso(run.createdAt)!,
    startedAt: iso(run.startedAt),
    endedAt: iso(run.endedAt),
  }
}

/** Until the worker has looked at how a run goes: as was forecast when it started. */
function firstFinish({ createdAt, forecast, counts }: RunViewModel): FinishForecast | null {
  if (!forecast) return null
  const after = (ms: number) => new Date(new Date(createdAt).getTime() + ms).toISOString()
  return {
    at: after(0),
    p50: after(forecast.p50Ms),
    p90: after(forecast.p90Ms),
    pace: 1,
    left: totalOf(counts) - endedOf(counts),
  }
}

export async function dayStrip(ctx: Context, from: Date, to: Date): Promise<DayStripViewModel> {
  const now = new Date()
  const [runs, agents, rota] = await Promise.all([
    runsBetween(ctx.db, from, to),
    listAgents(ctx.db, ctx.leaseMs),
    to > now ? rotaViewModel(ctx, new Date(Math.max(now.getTime(), from.getTime())), to) : undefined,
  ])
  const alive = agents.filter((agent) => agent.alive)
  return {
    now: now.toISOString(),
    from: from.toISOString(),
    to: to.toISOString(),
    runs: runs.map(runLine),
    planned: rota?.occurrences.filter(({ state }) => state === 'planned') ?? [],
    clashes: rota?.clashes ?? [],
    blackouts: rota?.blackouts ?? [],
    agents: {
      alive: alive.length,
      all: agents.length,
      seatsBusy: agents.reduce((sum, agent) => sum + agent.work.length, 0),
      seats: alive.reduce((sum, agent) => sum + agent.seats, 0),
    },
  }
}

const HALF_WINDOW_MS = 12 * HOUR_MS
/** The strip as a view opens with it: twelve hours to either side. */
export const dayStripAround = (ctx: Context, now = Date.now()): Promise<DayStripViewModel> =>
  dayStrip(ctx, new Date(now - HALF_WINDOW_MS), new Date(now + HALF_WINDOW_MS))

export const seatTile = (agent: AgentViewModel, work: AgentViewModel['work'][number]): SeatTile => {
  const { attemptId, state: mark, title, environment, atStep, screen, startedAt, estimateMs } = work
  return {
    attemptId,
    mark,
    title,
    environment,
    agent: agent.name,
    simulated: agent.simulated,
    atStep,
    screen,
    startedAt: new Date(startedAt).toISOString(),
    estimateMs,
  }
}

/** What each seat that is at work on a run does. */
export const seatsOf = (agents: readonly AgentViewModel[], runId: number): SeatTile[] =>
  agents.flatMap((agent) =>
    agent.work.filter((work) => work.runId === runId).map((work) => seatTile(agent, work)),
  )

/** @param offsetMinutes the reader's clock against UTC, as `Date.getTimezoneOffset` gives it */
export async function nowViewModel(ctx: Context, offsetMinutes: number): Promise<NowViewModel> {
  const [open, recent, agents, repositories, defects, suites, builds, applications, library] =
    await Promise.all([
      openRuns(ctx.db),
      recentRuns(ctx.db, 40),
      listAgents(ctx.db, ctx.leaseMs),
      listRepositories(ctx.db),
      listDefects(ctx.db, 200),
      definitionsOf(ctx.db, 'suite'),
      listBuilds(ctx.db),
      listApplications(ctx.db),
      loadLibrary(ctx),
    ])
  const now = Date.now()
  const ended = recent.filter((run) => run.state === 'ended' && run.endedAt)
  const ofLastDay = ended.filter((run) => now - new Date(run.endedAt!).getTime() < DAY_MS)
  const last = ofLastDay.toSorted((a, b) => totalOf(b.counts) - totalOf(a.counts))[0]
  const fresh = last ? await newlyFailing(ctx.db, last.id) : undefined
  const lost = agents.filter((agent) => !agent.alive)
  const local = new Date(now - offsetMinutes * 60_000)
  const weekday = local.toLocaleDateString('en-GB', { weekday: 'long', timeZone: 'UTC' })
  const newest = builds[0]
  return {
    greeting: greeting(weekday, local.getUTCHours()),
    subtitle: [
      local.toLocaleDateString('en-GB', { day: 'numeric', month: 'long', timeZone: 'UTC' }),
      newest && `newest build ${newest.label}`,
    ]
      .filter(Boolean)
      .join(', '),
    begin:
      recent.length > 0
        ? null
        : {
            application: applications.length > 0,
            case: library.cases.size > 0,
            agent: agents.some(({ alive }) => alive),
          },
    briefing: briefing({
      ...(last && {
        last: {
          id: last.id,
          title: last.title,
          build: last.build,
          counts: last.counts,
          failingCases: last.failingCases,
          endedAgoMs: now - new Date(last.endedAt!).getTime(),
          newFailing: fresh!.cases,
          ...(fresh!.previousTitle && { previousTitle: fresh!.previousTitle }),
        },
      }),
      running: open.map(({ id, title, counts }) => ({ id, title, counts })),
      agents: { alive: agents.length - lost.length, all: agents.length, lost: lost.map(({ name }) => name) },
      defectsWaiting: defects.filter(({ state, sendProblem }) => state === 'to-send' && sendProblem).length,
      suites: suites.length,
    }),
    waiting: await waitingItems(ctx, {
      last,
      fresh: fresh?.cases ?? [],
      agents,
      repositories,
      defects,
      rota: await rotaViewModel(ctx, new Date(now), new Date(now + DAY_MS)),
    }),
    running: open.map((run) => {
      const seats = seatsOf(agents, run.id)
      return {
        ...runLine(run),
        seats,
        byHand: run.kind === 'guided',
        waitingSeats: seats.length === 0 && endedOf(run.counts) < totalOf(run.counts),
      }
    }),
    lately: ended.slice(0, LATELY_RUNS).map(runLine),
  }
}
