/** What a test of the server has: a database and a folder of its own, a workspace, agents. Never imported by
 * the product. */
import { randomBytes } from 'node:crypto'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Environment } from '@/core/model'
import { upsertAgent, type AgentRow } from '@/db/agents'
import { addToken } from '@/db/tokens'
import { connect } from '@/db/client'
import { putDefinition, addRepository } from '@/db/definitions'
import { putWorkspace } from '@/db/workspace'
import { at, databaseNow } from '@/db/moment'
import { Notifier } from '@/db/notify'
import { parseDefinition } from '@/core/model/files'
import type { Context } from '../context'
import { fileEvidenceStore } from '../evidence'
import { closeHub } from '../live'
import { workHere } from '../work'
import { dropDatabase, newDatabase } from './database'

export type TestContext = Context & { end(): Promise<void> }

export async function testContext(): Promise<TestContext> {
  const server = process.env.OAK_TEST_DATABASE_URL
  if (!server) throw new Error('These tests need PostgreSQL: run them by ./oak test unit')
  const url = await newDatabase(server, `test_${randomBytes(6).toString('hex')}`)
  const home = await mkdtemp(join(tmpdir(), 'oak-test-'))
  const connection = connect(url)
  const notifier = new Notifier(connection.db)
  return {
    connection,
    db: connection.db,
    notifier,
    now: databaseNow,
    leaseMs: 30_000,
    home,
    evidence: fileEvidenceStore(join(home, 'evidence')),
    work: workHere,
    end: async () => {
      await notifier.flush()
      await closeHub()
      await connection.close()
      await dropDatabase(server, url)
      await rm(home, { recursive: true, force: true })
    },
  }
}

/** Does something with a single connection to the database: what asks for a second one while it holds the
 * first waits for ever, and fails. */
export async function withOneConnection<T>(ctx: Context, work: (one: Context) => Promise<T>): Promise<T> {
  const connection = connect(ctx.connection.url, 1)
  try {
    return await work({ ...ctx, connection, db: connection.db })
  } finally {
    await connection.close()
  }
}

const environment = (key: string): Environment => ({
  key,
  title: key.toUpperCase(),
  browser: 'B',
  os: 'O',
  width: 800,
  height: 600,
  locale: 'en-GB',
  simulated: true,
})

/** Two environments, one application, and these files as if read from a repository. */
export async function seedFiles(ctx: Context, files: Record<string, string>): Promise<void> {
  await putWorkspace(ctx.db, {
    applications: [{ key: 'booking', title: 'Booking', address: 'http://127.0.0.1:9/b/{build}/booking' }],
    builds: [{ label: '1.0' }],
    environments: ['wide', 'narrow'].map((key, position) => ({
      key,
      title: key.toUpperCase(),
      position,
      simulated: true,
      facts: environment(key),
    })),
  })
  const repositoryId = await addRepository(ctx.db, { name: 'cases', location: '/nowhere', branch: 'main' })
  for (const [file, source] of Object.entries(files)) {
    const { definition, problems } = parseDefinition(file, source)
    if (!definition) throw new Error(JSON.stringify(problems))
    await putDefinition(ctx.db, { repositoryId, file, hash: file, source, document: definition })
  }
}

/** The same, so much later. */
export const laterBy = <C extends Context>(ctx: C, ms: number): C => ({
  ...ctx,
  now: at(new Date(Date.now() + ms)),
})

export async function addAgent(
  ctx: Context,
  name: string,
  seats = 1,
  environments = ['wide', 'narrow'],
  pool = 'test',
): Promise<AgentRow> {
  const token = await addToken(ctx.db, {
    purpose: 'agent',
    name: 'test',
    hash: `hash of ${name}`,
    createdBy: 'test',
  })
  return (await upsertAgent(
    ctx.db,
    token,
    { name, instance: 'first', pool, version: '1', seats, environments, simulated: true },
    ctx.now,
  ))!
}

export const simpleCase = (key: string, extra = '') =>
  `case: ${key}\ntitle: ${key.toUpperCase()}\n${extra}steps:\n  - open: booking:/\n  - click: { ` +
  `on: { text: Go } }\n`
export const simpleSuite = (key: string, cases: string[]) =>
  `suite: ${key}\ntitle: ` +
  `${key.toUpperCase()}\nentries:\n${cases.map((one) => `  - case: ${one}`).join('\n')}\n`
