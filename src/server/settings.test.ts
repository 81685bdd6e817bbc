import { sql } from 'drizzle-orm'
import { addRepository } from '@/db/definitions'
import { loadLibrary, removeRepository } from './definitions'
import { removeDatabase, setDatabase } from './databases'
import { makeToken, revoke } from './people'
import { openSecrets, removeSecret, seal, setSecret, unseal } from './secrets'
import { settingsSight } from './sights'
import { addAgent, seedFiles, simpleCase, testContext, type TestContext } from './testing/context'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a').replace('text: Go', 'text: "${secret.PIN}"'), 'b.case.yaml': `${simpleCase('b')}  - query: { database: records, sql: select 1, expect: { rows: 1 } }\n`,
  })
})
afterAll(() => ctx.end())

describe('secrets', () => {
  test('a value goes in, is sealed, and is seen by nobody who looks at the settings', async () => {
    expect((await settingsSight(ctx)).missing).toEqual(['PIN'])
    await setSecret(ctx, 'PIN', 'harbour-9', 'Wren')
    const sight = await settingsSight(ctx)
    expect(sight).toMatchObject({ missing: [], secrets: [{ name: 'PIN', setBy: 'Wren', uses: 1 }] })
    expect(JSON.stringify(sight)).not.toContain('harbour-9')
    expect(JSON.stringify((await ctx.db.execute(sql`select * from secrets`)).rows)).not.toContain('harbour-9')
    expect(await openSecrets(ctx, ['PIN', 'OTHER'])).toEqual({ PIN: 'harbour-9' })
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
    await expect(setSecret(ctx, name, 'harbour-9', 'Wren')).rejects.toMatchObject({ code: 'BODY_INVALID' })
  })
})

describe('databases', () => {
  const own = () => process.env.OAK_TEST_DATABASE_URL!
  test('one that answers is kept, shown without its password, and told whether it could be written to', async () => {
    await ctx.db.execute(sql`create table if not exists public.somewhere (x int)`)
    expect(await setDatabase(ctx, 'records', own(), 'Wren')).toEqual({ writes: expect.any(Boolean) })
    const [database] = (await settingsSight(ctx)).databases
    expect(database).toMatchObject({ key: 'records', uses: 1 })
    expect(new URL(database!.address).password).toBe('')
    await removeDatabase(ctx, 'records', 'Wren')
    await expect(removeDatabase(ctx, 'records', 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  })
  test.each([
    { why: 'nobody answers there', key: 'records', url: 'postgres://x:y@127.0.0.1:9/z', code: 'DATABASE_UNREACHABLE' },
    { why: 'it is no address', key: 'records', url: 'postgres://[', code: 'BODY_INVALID' },
    { why: 'it is no name', key: 'My Records', url: 'postgres://x:y@127.0.0.1:9/z', code: 'BODY_INVALID' },
  ])('$why: it is not kept', async ({ key, url, code }) => {
    await expect(setDatabase(ctx, key, url, 'Wren')).rejects.toMatchObject({ code })
    expect((await settingsSight(ctx)).databases).toEqual([])
  })
})

test('a revoked token is gone from the list, and its text never was in it', async () => {
  const token = await makeToken(ctx, 'ci', 'night build', 'Wren')
  await addAgent(ctx, 'maren')
  const { tokens } = await settingsSight(ctx)
  expect(JSON.stringify(tokens)).not.toContain(token)
  expect(tokens.find(({ purpose }) => purpose === 'agent')!.agents).toEqual(['maren'])
  const made = tokens.find(({ name }) => name === 'night build')!
  await revoke(ctx, made.id, 'Wren')
  expect((await settingsSight(ctx)).tokens.map(({ name }) => name)).not.toContain('night build')
  await expect(revoke(ctx, made.id, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('a repository with edits is not removed by accident; without them it goes with what came from it', async () => {
  const id = await addRepository(ctx.db, { name: 'cases', location: '/nowhere', branch: 'main' })
  await ctx.db.execute(sql`update definitions set edited = true where key = 'a'`)
  await expect(removeRepository(ctx, id, false, 'Tomas')).rejects.toMatchObject({ code: 'EDITS_WAIT', message: expect.stringContaining('a.case.yaml') })
  expect((await loadLibrary(ctx)).cases.size).toBe(2)
  await removeRepository(ctx, id, true, 'Tomas')
  expect((await loadLibrary(ctx)).cases.size).toBe(0)
  await expect(removeRepository(ctx, id, true, 'Tomas')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})
