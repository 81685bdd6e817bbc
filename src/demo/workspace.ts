/** What a new installation starts with: people, applications, environments, builds, the repository,
 * tokens. */
import { cp, mkdir, readFile, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { simpleGit } from 'simple-git'
import { addToken } from '@/db/tokens'
import { addRepository } from '@/db/definitions'
import { putWorkspace } from '@/db/workspace'
import { putSetting, setting } from '@/db/settings'
import type { Context } from '@/server/context'
import { giveToNobody, readRepository } from '@/server/definitions'
import { newWebhookSecret } from '@/server/http/signed'
import { addPersonWithPassword, hashToken } from '@/server/people'
import { takeRequirements } from '@/server/requirements'
import { putBlackoutCalendars } from '@/server/rota'
import { sealColumn } from '@/server/sealing'
import { setPicture } from '@/server/pictures'
import { setSecret } from '@/server/secrets'
import { DEMO_PASSWORD, ENVIRONMENTS, PEOPLE } from './fleet'
import { deckPlanPicture } from './pictures'

export const DEMO_BUILDS = ['2026.11.1', '2026.11.2', '2026.11.3', '2026.11.4']
const DAY_MS = 86_400_000

/** Environments of this machine, which every installation has. */
export async function seedBasics(ctx: Context, agentToken: string): Promise<string> {
  const environments = ENVIRONMENTS.filter(({ simulated }) => !simulated)
  await putWorkspace(ctx.db, { applications: [], environments: environments.map(asRow), builds: [] })
  return addToken(ctx.db, {
    purpose: 'agent',
    name: 'agents of this machine',
    hash: hashToken(agentToken),
    createdBy: 'start',
  })
}

const asRow = (facts: (typeof ENVIRONMENTS)[number], position: number) => ({
  key: facts.key,
  title: facts.title,
  position,
  simulated: facts.simulated,
  facts,
})

/** The ferry line: its people, its four applications, its builds over the last days.
 * @param records where its database is, for a role that may only read */
export async function seedFerryLine(
  ctx: Context,
  {
    ferry,
    tracker,
    mailPort,
    now,
    records,
  }: { ferry: string; tracker: string; mailPort: number; now: Date; records: string },
): Promise<void> {
  for (const person of PEOPLE) await addPersonWithPassword(ctx, { ...person, password: DEMO_PASSWORD })
  const titles = { booking: 'Booking', desk: 'Fare desk', gate: 'Boarding gate', manifest: 'Manifest' }
  await putWorkspace(ctx.db, {
    applications: Object.entries(titles).map(([key, title]) => ({
      key,
      title,
      address: `${ferry}/b/{build}/${key}`,
    })),
    environments: ENVIRONMENTS.map(asRow),
    databases: [{ key: 'ferry', url: sealColumn(records) }],
    builds: DEMO_BUILDS.map((label, i) => ({
      label,
      createdAt: new Date(now.getTime() - (DEMO_BUILDS.length - i) * DAY_MS),
    })),
  })
  await putSetting(ctx.db, 'tracker', { url: tracker })
  if (!(await setting(ctx.db, 'mail')))
    await putSetting(ctx.db, 'mail', {
      host: '127.0.0.1',
      port: mailPort,
      from: 'oak@fennel-sound.invalid',
    })
  await putBlackoutCalendars(
    ctx,
    [
      {
        key: 'harbour-drills',
        title: 'Harbour drills',
        blackout: [{ rule: 'FREQ=WEEKLY', start: '2026-11-04T08:30', end: '2026-11-04T12:30' }],
      },
    ],
    'Wren Adeyemi',
  )
}

/** A real local git repository with the ferry line's cases, and the password they use: made once, then read
 * and changed like any other. */
export async function seedRepository(ctx: Context, templates: string): Promise<void> {
  await setSecret(
    ctx,
    'DESK_PASSWORD',
    { value: 'harbour-12', applications: ['booking', 'desk', 'gate', 'manifest'] },
    'Tomas Lindqvist',
  )
  const list = await readFile(join(templates, '..', 'requirements.csv'), 'utf8')
  await takeRequirements(ctx, { list, look: false }, 'Wren Adeyemi')
  await setPicture(ctx, 'deck-plan', { bytes: await deckPlanPicture() }, 'Tomas Lindqvist')
  const folder = join(ctx.home, 'demo', 'harbour-cases')
  await rm(folder, { recursive: true, force: true })
  await mkdir(folder, { recursive: true })
  await cp(templates, folder, { recursive: true })
  const git = simpleGit(folder)
  await git.init(['--initial-branch=main'])
  await git.addConfig('user.name', 'Tomas Lindqvist')
  await git.addConfig('user.email', 'tomas@fennel-sound.invalid')
  await git.add('.')
  await git.commit('Cases for booking, desk, gate and manifest')
  await giveToNobody(folder) // so that git is not run as root on it
  await readRepository(
    ctx,
    await addRepository(ctx.db, {
      name: 'harbour-cases',
      location: folder,
      branch: 'main',
      webhookSecret: sealColumn(newWebhookSecret()),
    }),
  )
}
