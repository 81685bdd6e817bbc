/** The demo's past: which runs there were, ending now. */
import { agents } from '@/db/schema'
import { beat, upsertAgent, type AgentRow } from '@/db/agents'
import { at } from '@/db/moment'
import { sql } from 'drizzle-orm'
import { BrowserHolder, findChromium } from '@/agent/chromium/browser'
import { PictureMaker } from '@/agent/simulated/pictures'
import type { Context } from '@/server/context'
import { startRun, type StartRequest } from '@/server/runs'
import { SIMULATED_FLEET } from './fleet'
import { workThrough } from './virtual'

const HOUR_MS = 3_600_000
const WIDE = ['chromium-windows', 'firefox-windows', 'webkit-macos']
const NARROW = ['android-handset', 'ios-handset']

type Past = {
  hoursAgo: number
  request: Pick<StartRequest, 'suite' | 'environments' | 'build' | 'title' | 'rotationKey'>
  who: string
  retries: number
}

/** Three nights, with smoke runs between them. */
function past(): Past[] {
  const night = (hoursAgo: number, number: number, build: string, environments: string[]): Past => ({
    hoursAgo,
    request: {
      suite: 'nightly',
      environments,
      build,
      title: `Night Full ${number}`,
      rotationKey: 'night-full',
    },
    who: 'schedule',
    retries: 1,
  })
  const smoke = (hoursAgo: number, number: number, build: string): Past => ({
    hoursAgo,
    request: {
      suite: 'smoke',
      environments: ['chromium-windows', 'webkit-macos'],
      build,
      title: `Hourly Smoke ${number}`,
      rotationKey: 'hourly-smoke',
    },
    who: 'schedule',
    retries: 0,
  })
  return [
    night(57, 316, '2026.11.1', WIDE),
    night(33, 317, '2026.11.2', [...WIDE, 'android-handset']),
    smoke(21, 1042, '2026.11.2'),
    smoke(10.5, 1044, '2026.11.3'),
    night(8, 318, '2026.11.3', [...WIDE, ...NARROW]),
    ...[5.5, 3.5, 2.2].map((hours, i) => smoke(hours, 1045 + i, '2026.11.3')),
    {
      hoursAgo: 1.2,
      request: {
        suite: 'gate-and-manifest',
        environments: NARROW,
        build: '2026.11.3',
        title: 'Gate Handsets 76',
        rotationKey: 'gate-handsets',
      },
      who: 'Joss Okafor',
      retries: 1,
    },
  ]
}

/** Makes the past.
 * @param short without the nights: for tests, which make runs of their own */
export async function makeHistory(
  ctx: Context,
  tokenId: string,
  now: Date,
  short: boolean,
  say: (text: string) => void,
): Promise<void> {
  const holder = new BrowserHolder()
  const pictures = findChromium() ? new PictureMaker(holder) : undefined
  if (!pictures) say('Chromium is not installed: the history has no screens')
  try {
    const fleet: AgentRow[] = []
    for (const agent of SIMULATED_FLEET)
      fleet.push(
        (await upsertAgent(ctx.db, tokenId, { ...agent, instance: 'history', version: '0.1.0' }, at(now)))!,
      )
    for (const { hoursAgo, request, who, retries } of short
      ? past().filter(({ request: { suite } }) => suite !== 'nightly')
      : past()) {
      const from = new Date(now.getTime() - hoursAgo * HOUR_MS)
      const virtual = { ...ctx, now: at(from) }
      for (const agent of fleet) await beat(ctx.db, agent.id, ctx.now)
      await startRun(
        virtual,
        {
          ...request,
          retries,
          limitMs: 120_000,
          policy: { policy: 'harbour', from: `the rotation ${request.title!.replace(/ \d+$/, '')}` },
        },
        who,
      )
      const end = await workThrough(ctx, fleet, from, pictures)
      say(`${request.title}: ${Math.round((end.getTime() - from.getTime()) / 60_000)} virtual minutes`)
    }
    // Nobody serves until real processes take these names over.
    await ctx.db.update(agents).set({ heartbeatAt: sql`now() - interval '1 hour'` })
  } finally {
    await holder.close()
  }
}
