import { randomBytes } from 'node:crypto'
import pg from 'pg'
import { sql } from 'drizzle-orm'
import { addRepository } from '@/db/definitions'
import { changeRepository, loadLibrary, removeRepository } from './definitions'
import { putRetention } from './evidence'
import { removeDatabase, setDatabase } from './databases'
import { makeToken, revoke } from './people'
import { quarantine, setWorkspacePolicy } from './recovery'
import { seal, unseal } from './sealing'
import { openSecrets, removeSecret, setSecret } from './secrets'
import { makeHook } from './triggers'
import { settingsViewModel } from './view-models'
import { addAgent, seedFiles, simpleCase, testContext, type TestContext } from './testing/context'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a').replace('text: Go', 'text: "${secret.PIN}"'),
    'b.case.yaml': `${simpleCase('b')}  - query: { database: records, sql: select 1, expect: { rows: 1 } }\n`,
  })
})
afterAll(() => ctx.end())

describe('secrets', () => {
  test('a value goes in, is sealed, and is seen by nobody who looks at the settings', async () => {
    expect((await settingsViewModel(ctx)).missing).toEqual(['PIN'])
    await setSecret(ctx, 'PIN', { value: 'harbour-9' }, 'Wren')
    const viewModel = await settingsViewModel(ctx)
    expect(viewModel).toMatchObject({ missing: [], secrets: [{ name: 'PIN', setBy: 'Wren', uses: 1 }] })
    expect(JSON.stringify(viewModel)).not.toContain('harbour-9')
    expect(JSON.stringify((await ctx.db.execute(sql`select * from secrets`)).rows)).not.toContain('harbour-9')
    const { id: agentId } = await addAgent(ctx, 'agent-maren-21')
    const open = (touched?: string[]) => openSecrets(ctx, ['PIN', 'OTHER'], { agentId, touched })
    expect(await open()).toEqual({ PIN: 'harbour-9' })
    await setSecret(
      ctx,
      'PIN',
      { value: 'harbour-9', applications: ['desk', 'gate'], pools: ['test', 'quay'] },
      'Wren',
    )
    for (const touched of [[], ['desk'], ['desk', 'gate']])
      expect(await open(touched)).toEqual({ PIN: 'harbour-9' })
    for (const touched of [undefined, ['booking'], ['desk', 'booking']])
      expect(await open(touched)).toEqual({})
    // a new value changes nothing of where it may be used
    await setSecret(ctx, 'PIN', { value: 'harbour-10' }, 'Wren')
    expect(await open(['desk'])).toEqual({ PIN: 'harbour-10' })
    expect(await open(['booking'])).toEqual({})
    await setSecret(ctx, 'PIN', { value: 'harbour-9', pools: ['quay'] }, 'Wren')
    expect(await open(['desk'])).toEqual({})
    await removeSecret(ctx, 'PIN', 'Wren')
    await expect(removeSecret(ctx, 'PIN', 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  })
  test('sealing twice never looks the same, and what was tampered with does not open', () => {
    const sealed = seal('harbour-9')
    expect(seal('harbour-9')).not.toBe(sealed)
    expect(unseal(sealed)).toBe('harbour-9')
    const bytes = Buffer.from(sealed, 'base64')
    bytes[14]! ^= 1
    expect(() => unseal(bytes.toString('base64'))).toThrow()
  })
  test.each(['1PIN', 'my pin', '', 'a'.repeat(61)])('“%s” is no name for one', async (name) => {
    await expect(setSecret(ctx, name, { value: 'harbour-9' }, 'Wren')).rejects.toMatchObject({
      code: 'BODY_INVALID',
    })
  })
})

describe('databases', () => {
  const own = () => process.env.OAK_TEST_DATABASE_URL!
  const other = new URL(own())
  const as = (role: string) => Object.assign(new URL(other), { username: role, password: 'low-tide' }).href
  const admin = async (text: string) => {
    const client = new pg.Client({ connectionString: other.href })
    await client.connect()
    await client.query(text).finally(() => client.end())
  }
  beforeAll(async () => {
    const name = `records_${randomBytes(4).toString('hex')}`
    await admin(`create database ${name}`)
    other.pathname = `/${name}`
    await admin(
      `create schema harbour; create table harbour.sailings (x int); create sequence harbour.numbers`,
    )
    for (const role of ['reads', 'writes', 'counts', 'makes', 'owns']) {
      await admin(
        `do $$ begin create role oak_${role}_only login password 'low-tide'; exception when ` +
          'duplicate_object then null; end $$',
      )
      await admin(
        `grant usage on schema harbour to oak_${role}_only; grant select on harbour.sailings to ` +
          `oak_${role}_only`,
      )
    }
    await admin(
      'grant update (x) on harbour.sailings to oak_writes_only; grant usage on sequence ' +
        'harbour.numbers to oak_counts_only; grant create on schema harbour to oak_makes_only',
    )
    await admin(`create table harbour.own (x int); alter table harbour.own owner to oak_owns_only`)
  })
  test.each([
    ['a superuser', () => other.href, 'is a superuser'],
    ['one that may write a column', () => as('oak_writes_only'), 'may write to harbour.sailings'],
    [
      'one that may count a sequence on',
      () => as('oak_counts_only'),
      'may change the sequence harbour.numbers',
    ],
    ['one that may make tables', () => as('oak_makes_only'), 'may make things in the schema harbour'],
    ['an owner', () => as('oak_owns_only'), 'owns harbour.own'],
  ])('%s is refused, and told why', async (_, url, power) => {
    await expect(setDatabase(ctx, 'records', url(), 'Wren')).rejects.toMatchObject({
      code: 'DATABASE_ROLE_WRITES',
      message: expect.stringContaining(power) as string,
    })
    expect((await settingsViewModel(ctx)).databases).toEqual([])
  })
  test.each([
    ['the product’s own database', () => ctx.connection.url],
    ['the cloud’s own address', () => 'postgres://x:y@169.254.169.254/z'],
  ])(
    '%s is not read',
    async (_, url) =>
      await expect(setDatabase(ctx, 'records', url(), 'Wren')).rejects.toMatchObject({
        code: 'OUTGOING_REFUSED',
      }),
  )
  test('one whose role only reads is kept, sealed, and shown without its password', async () => {
    await setDatabase(ctx, 'records', as('oak_reads_only'), 'Wren')
    const { rows } = await ctx.db.execute<{ url: string }>(sql`select url from databases`)
    expect(JSON.stringify(rows)).not.toContain('low-tide')
    const [database] = (await settingsViewModel(ctx)).databases
    expect(database).toMatchObject({ key: 'records', uses: 1 })
    expect(new URL(database!.address).password).toBe('')
    await removeDatabase(ctx, 'records', 'Wren')
    await expect(removeDatabase(ctx, 'records', 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  })
  test.each([
    {
      why: 'nobody answers there',
      key: 'records',
      url: 'postgres://x:y@127.0.0.1:9/z',
      code: 'DATABASE_UNREACHABLE',
    },
    { why: 'it is no address', key: 'records', url: 'postgres://[', code: 'BODY_INVALID' },
    { why: 'it is no name', key: 'My Records', url: 'postgres://x:y@127.0.0.1:9/z', code: 'BODY_INVALID' },
  ])('$why: it is not kept', async ({ key, url, code }) => {
    await expect(setDatabase(ctx, key, url, 'Wren')).rejects.toMatchObject({ code })
    expect((await settingsViewModel(ctx)).databases).toEqual([])
  })
})

test('a revoked token is gone from the list, and its text never was in it', async () => {
  const token = await makeToken(ctx, 'ci', 'night build', 'Wren')
  await addAgent(ctx, 'maren')
  const { tokens } = await settingsViewModel(ctx)
  expect(JSON.stringify(tokens)).not.toContain(token)
  expect(tokens.flatMap(({ purpose, agents }) => (purpose === 'agent' ? [agents] : []))).toContainEqual([
    'maren',
  ])
  const made = tokens.find(({ name }) => name === 'night build')!
  await revoke(ctx, made.id, 'Wren')
  expect((await settingsViewModel(ctx)).tokens.map(({ name }) => name)).not.toContain('night build')
  await expect(revoke(ctx, made.id, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('a repository with edits is not removed by accident; without them it goes with what came from it', async () => {
  const id = await addRepository(ctx.db, { name: 'cases', location: '/nowhere', branch: 'main' })
  await ctx.db.execute(sql`update definitions set edited = true where key = 'a'`)
  await expect(removeRepository(ctx, id, false, 'Tomas')).rejects.toMatchObject({
    code: 'EDITS_WAIT',
    message: expect.stringContaining('a.case.yaml'),
  })
  expect((await loadLibrary(ctx)).cases.size).toBe(2)
  await removeRepository(ctx, id, true, 'Tomas')
  expect((await loadLibrary(ctx)).cases.size).toBe(0)
  await expect(removeRepository(ctx, id, true, 'Tomas')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

describe('a change that cannot be noted in the audit trail is not made', () => {
  let repository: number
  beforeAll(async () => {
    await seedFiles(ctx, { 'noted.case.yaml': simpleCase('noted') })
    const wanted = { name: 'noted', location: '/noted', branch: 'main', webhookSecret: '' }
    repository = await addRepository(ctx.db, wanted)
    await ctx.db.execute(sql`alter table audit add constraint closed check (false) not valid`)
  })
  afterAll(async () => void (await ctx.db.execute(sql`alter table audit drop constraint closed`)))
  const rows = async (table: string) =>
    (await ctx.db.execute(sql`select * from ${sql.identifier(table)} order by 1`)).rows

  test.each<[string, string, () => Promise<unknown>]>([
    ['a secret', 'secrets', () => setSecret(ctx, 'UNSEEN', { value: 'harbour-9' }, 'Wren')],
    ['a token', 'tokens', () => makeToken(ctx, 'ci', 'unseen', 'Wren')],
    ['how long evidence is kept', 'settings', () => putRetention(ctx, { video: 3 }, 'Wren')],
    ['a policy for everything', 'settings', () => setWorkspacePolicy(ctx, null, 'Wren')],
    [
      'a quarantine',
      'quarantines',
      () => quarantine(ctx, 'noted', { until: dayAhead(), because: 'b' }, 'Wren'),
    ],
    ['a webhook', 'hooks', () => makeHook(ctx, { address: 'https://harbour.invalid/', events: [] }, 'Wren')],
    [
      'what a repository is read by',
      'repositories',
      () => changeRepository(ctx, repository, { everyMinutes: 9 }, 'Wren'),
    ],
  ])('%s', async (_, table, change) => {
    const before = await rows(table)
    await expect(change()).rejects.toMatchObject({ cause: { constraint: 'closed' } })
    expect(await rows(table)).toEqual(before)
  })
})
const dayAhead = () => new Date(Date.now() + 86_400_000).toISOString().slice(0, 10)
