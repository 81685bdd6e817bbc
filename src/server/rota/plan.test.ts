/** What a rotation’s plan means when it runs: pools, spread, before and after all, limits, forecasts. */
import { sql } from 'drizzle-orm'
import { caseRuns, runs } from '@/db/schema'
import { runViewModel } from '@/db/runs'
import { claimWork, editAgent, endOverdue } from '../dispatch'
import { addAgent, seedFiles } from '../testing/context'
import { startRotation } from '.'
import { all, claim, ctx, end, keep, lines, withSuite } from './testing/suite'

withSuite()

test('parts run in their order, each once where they stand', async () => {
  await addAgent(ctx, 'one')
  await seedFiles(ctx, {
    'p.rotation.yaml':
      'rotation: p\ntitle: P\nwhat: [{ case: c }, { rule: x }, { suite: one }]\nwhere: { environments: ' +
      '[wide] }\n',
  })
  const run = await startRotation(ctx, 'p', {}, 'Wren')
  expect((await lines(run)).map((line) => line.split(' ')[0])).toEqual(['c', 'a', 'b', 'a', 'b'])
})

test('a pool: only its agents take of it; one that is moved there takes too', async () => {
  const [one, two] = [await addAgent(ctx, 'one'), await addAgent(ctx, 'two')]
  await editAgent(ctx, two.id, { pool: 'Handsets' }, 'Wren')
  await keep('p', 'where: { environments: [wide], pool: Handsets }\n')
  const run = await startRotation(ctx, 'p', {}, 'Wren')
  expect(await claimWork(ctx, one)).toBeUndefined()
  expect((await claim(two)).runId).toBe(run)
  await editAgent(ctx, one.id, { pool: 'Handsets' }, 'Wren')
  expect((await claim(one)).runId).toBe(run)
})

describe('spread', () => {
  test('everywhere: every agent does all of it, and nobody another’s', async () => {
    const [one, two] = [await addAgent(ctx, 'one', 2), await addAgent(ctx, 'two', 2, ['wide'])]
    await keep('p', 'where: { environments: [wide], spread: everywhere }\n')
    const run = await startRotation(ctx, 'p', {}, 'Wren')
    expect(await lines(run)).toEqual([
      'a wide one waiting',
      'a wide two waiting',
      'b wide one waiting',
      'b wide two waiting',
    ])
    for (const agent of [one, two]) for (const _ of [1, 2]) await end(await claim(agent), 'passed')
    expect(await lines(run)).toEqual([
      'a wide one passed',
      'a wide two passed',
      'b wide one passed',
      'b wide two passed',
    ])
    expect((await runViewModel(ctx.db, run))!.state).toBe('ended')
  })
  test('in sequence: one seat of one agent, one thing after the other', async () => {
    const [one, two] = [await addAgent(ctx, 'one', 2), await addAgent(ctx, 'two', 1, ['wide'])]
    await keep('p', 'where: { environments: [wide, narrow], spread: sequence }\n')
    const run = await startRotation(ctx, 'p', {}, 'Wren')
    expect(new Set((await all(run)).map(({ agent }) => agent))).toEqual(new Set(['one']))
    expect(await claimWork(ctx, two)).toBeUndefined()
    const first = await claim(one)
    expect(await claimWork(ctx, one)).toBeUndefined() // its second seat is free, and has to wait
    await end(first, 'passed')
    expect((await claim(one)).runId).toBe(run)
  })
  test('by hand: each case on the agent it was given to', async () => {
    const [one, two] = [await addAgent(ctx, 'one', 2), await addAgent(ctx, 'two', 2)]
    await keep('p', 'where: { environments: [wide], spread: assigned, lanes: { a: two, b: two } }\n')
    const run = await startRotation(ctx, 'p', {}, 'Wren')
    expect(await lines(run)).toEqual(['a wide two waiting', 'b wide two waiting'])
    expect(await claimWork(ctx, one)).toBeUndefined()
    expect((await claim(two)).case.key).toBe('a')
  })
})

describe('what can be placed nowhere', () => {
  const elsewhere = 'where: { environments: [wide, narrow]'
  test('nothing starts until it is said that the rest is to run; then that is skipped, with the reason, and the run ends', async () => {
    const one = await addAgent(ctx, 'one', 2, ['wide'])
    await keep('p', `${elsewhere} }\n`)
    await expect(startRotation(ctx, 'p', {}, 'Wren')).rejects.toMatchObject({
      code: 'UNPLACEABLE',
      detail: { count: 2, of: 4 },
      message: expect.stringMatching(
        /^2 of 4 case runs can be placed nowhere. A and 1 more on NARROW: no agent serves/,
      ) as unknown,
    })
    expect(await ctx.db.$count(runs)).toBe(0)
    const run = await startRotation(ctx, 'p', { despite: true }, 'Wren')
    expect(await lines(run)).toEqual([
      'a narrow skipped',
      'a wide waiting',
      'b narrow skipped',
      'b wide waiting',
    ])
    expect((await all(run))[0]!.failureMessage).toMatch(/^It can be placed nowhere: no agent serves/)
    for (const _ of [1, 2]) await end(await claim(one), 'passed')
    expect((await runViewModel(ctx.db, run))!.state).toBe('ended')
  })
  test('a rotation may say so once for all', async () => {
    await addAgent(ctx, 'one', 2, ['wide'])
    await keep('p', `${elsewhere}, leaveOut: true }\n`)
    expect((await runViewModel(ctx.db, await startRotation(ctx, 'p', {}, 'Wren')))!.counts).toMatchObject({
      waiting: 2,
      skipped: 2,
    })
  })
})

describe('before and after all', () => {
  const around =
    'where: { environments: [wide, narrow] }\nbefore: [{ use: fetch }]\nafter: [{ use: fetch }]\n'
  test('before comes first and once, what it hands off goes to every case, after comes when all is over', async () => {
    const one = await addAgent(ctx, 'one', 4)
    await keep('p', around)
    const run = await startRotation(ctx, 'p', {}, 'Wren')
    const before = await claim(one)
    expect([before.case.key, before.environment.key, before.routines.map(({ key }) => key)]).toEqual([
      'before:all',
      'wide',
      ['fetch'],
    ])
    expect(await claimWork(ctx, one)).toBeUndefined()
    await end(before, 'passed', { account: 'isla' })
    const works = [await claim(one), await claim(one), await claim(one), await claim(one)]
    expect(
      works
        .map(({ case: { key }, environment, handoffs }) => `${key} ${environment.key} ${handoffs.account}`)
        .sort(),
    ).toEqual(['a narrow isla', 'a wide isla', 'b narrow isla', 'b wide isla'])
    await end(works[0]!, 'failed')
    for (const work of works.slice(1)) await end(work, 'passed')
    const after = await claim(one)
    expect([after.case.key, after.handoffs.account]).toEqual(['after:all', 'isla'])
    await end(after, 'passed')
    expect(await runViewModel(ctx.db, run)).toMatchObject({
      state: 'ended',
      counts: { passed: 5, failed: 1 },
      endedWhy: null,
    })
  })
  test('by hand and everywhere it is still done once, by any agent', async () => {
    await addAgent(ctx, 'one', 2)
    await addAgent(ctx, 'two', 2)
    for (const spread of ['everywhere', 'assigned, lanes: { a: two, b: two }']) {
      await keep('p', `where: { environments: [wide], spread: ${spread} }\nbefore: [{ use: fetch }]\n`)
      expect(
        (await lines(await startRotation(ctx, 'p', {}, 'Wren'))).filter((line) => line.startsWith('before')),
      ).toEqual(['before:all wide waiting'])
    }
  })
  test('when nothing has a place, nothing starts whatever was said: such a run would never end', async () => {
    await addAgent(ctx, 'one', 2, ['narrow'])
    await keep('p', 'where: { environments: [wide], leaveOut: true }\nbefore: [{ use: fetch }]\n')
    await expect(startRotation(ctx, 'p', { despite: true }, 'Wren')).rejects.toMatchObject({
      code: 'UNPLACEABLE',
    })
  })
  test('when before all does not pass, nothing starts, and the run says why', async () => {
    const one = await addAgent(ctx, 'one')
    await keep('p', around)
    const run = await startRotation(ctx, 'p', {}, 'Wren')
    await end(await claim(one), 'failed')
    expect((await runViewModel(ctx.db, run))!).toMatchObject({
      endedWhy: 'What comes before all did not pass: it is 3',
      counts: { failed: 1, skipped: 4, waiting: 1 },
    })
    const after = await claim(one) // what cleans up is done all the same
    expect(after.case.key).toBe('after:all')
    await end(after, 'passed')
    expect((await runViewModel(ctx.db, run))!.state).toBe('ended')
  })
})

test('after so many failures the rest is not begun', async () => {
  const one = await addAgent(ctx, 'one')
  await keep('p', 'where: { environments: [wide, narrow] }\nstopAfter: 2\n')
  const run = await startRotation(ctx, 'p', {}, 'Wren')
  for (const _ of [1, 2]) await end(await claim(one), 'failed')
  expect(await runViewModel(ctx.db, run)).toMatchObject({
    state: 'ended',
    endedWhy: 'The run stops after 2 failures',
    counts: { failed: 2, skipped: 2 },
  })
})

test('a run that goes on for longer than it may is cancelled, and says so', async () => {
  const one = await addAgent(ctx, 'one')
  await keep('p', 'where: { environments: [wide] }\nrunLimit: 10m\n')
  const run = await startRotation(ctx, 'p', {}, 'Wren')
  await claim(one)
  expect(await endOverdue(ctx)).toEqual([])
  await ctx.db.update(runs).set({ startedAt: sql`now() - interval '11 minutes'` })
  expect(await endOverdue(ctx)).toEqual([run])
  expect(await runViewModel(ctx.db, run)).toMatchObject({
    state: 'cancelling',
    endedWhy: 'It went on for longer than 10 min',
  })
})

test('how it runs goes to the agents, and the forecast stays with the run', async () => {
  const one = await addAgent(ctx, 'one', 2)
  await keep('p', 'where: { environments: [wide, narrow] }\nhow: { settle: 300ms, video: never }\n')
  const run = await startRotation(ctx, 'p', {}, 'Wren')
  expect((await claim(one)).how).toMatchObject({ settleMs: 300, video: 'never', screens: 'always' })
  const { forecast } = (await runViewModel(ctx.db, run))!
  expect(forecast).toMatchObject({ caseRuns: 4, seats: 2, unplaceable: 0 })
  expect(
    forecast!.lanes
      .flatMap(({ items }) => items.map(([position, environment]) => `${position} ${environment}`))
      .sort(),
  ).toEqual(['0 narrow', '0 wide', '1 narrow', '1 wide'])
})

test('estimates: waits of past runs are taken off, those of this one put on', async () => {
  const agent = await addAgent(ctx, 'one')
  await keep('slow', 'where: { environments: [wide] }\nhow: { between: 10s }\n')
  await keep('quick', 'where: { environments: [wide] }\n')
  const estimates = async (key: string) =>
    (await all(await startRotation(ctx, key, {}, 'Wren'))).map(({ estimateMs }) => estimateMs)
  const before = await estimates('slow')
  expect(before.map((ms) => ms - 20_000)).toEqual(await estimates('quick')) // two steps, nothing known yet
  for (let i = 0; i < 2; i++) await end(await claim(agent), 'passed')
  await ctx.db
    .update(caseRuns)
    .set({ durationMs: 25_000 })
    .where(sql`outcome = 'passed'`)
  expect([await estimates('slow'), await estimates('quick')]).toEqual([
    [25_000, 25_000],
    [5000, 5000],
  ])
})
