/** When rotations start, what keeps them from it, and what the rota shows of that. */
import { sql } from 'drizzle-orm'
import { AGENT_PROTOCOL } from '@/core/execution'
import type { Rotation } from '@/core/model'
import { parseDefinition } from '@/core/model/files'
import { runViewModel } from '@/db/runs'
import { agents, occurrenceStarts, runs } from '@/db/schema'
import { addBuild } from '@/db/workspace'
import { addAgent, seedFiles } from '../testing/context'
import { changeRota, putBlackoutCalendars, rotaCalendar, startDue, startRotation } from '.'
import { nextStarts, nowViewModel, rotaViewModel } from '../view-models'
import { at, claim, ctx, end, keep, rotation, withSuite } from './testing/suite'

withSuite()

describe('after another rotation', () => {
  const start = async () => {
    const one = await addAgent(ctx, 'one')
    await seedFiles(ctx, {
      'first.rotation.yaml':
        'rotation: first\ntitle: FIRST\nwhat: [{ case: a }]\nretries: 0\nwhere: { environments: [wide] }\n',
      'next.rotation.yaml':
        'rotation: next\ntitle: NEXT\nwhat: [{ case: b }]\nwhere: { environments: [wide] }\nfollows: { ' +
        'rotation: first, on: passed }\n',
    })
    await startDue(ctx)
    return one
  }
  test('it starts once when a run of that has passed', async () => {
    const one = await start()
    await startRotation(ctx, 'first', {}, 'Wren')
    expect(await startDue(ctx)).toEqual([])
    await end(await claim(one), 'passed')
    expect(await startDue(ctx)).toMatchObject([
      { rotation: 'next', did: 'started', why: expect.stringMatching(/^after run \d+ of FIRST$/) as unknown },
    ])
    expect(await startDue(ctx)).toEqual([])
    expect(await ctx.db.$count(runs)).toBe(2)
  })
  test('also when what it follows was committed after others looked: it is not lost', async () => {
    const one = await start()
    const run = await startRotation(ctx, 'first', {}, 'Wren')
    await end(await claim(one), 'passed')
    // as when the end of the run was still being written while the worker looked
    await ctx.db.update(runs).set({ state: 'running' })
    expect(await startDue(ctx)).toEqual([])
    await ctx.db.update(runs).set({ state: 'ended' })
    expect(await startDue(ctx)).toMatchObject([{ rotation: 'next', did: 'started' }])
    expect(await startDue(ctx)).toEqual([])
    expect(run).toBeGreaterThan(0)
  })
  test('with the build of what it follows, though a newer one came meanwhile', async () => {
    const one = await start()
    await startRotation(ctx, 'first', { build: '1.0' }, 'Wren')
    await end(await claim(one), 'passed')
    await addBuild(ctx.db, '2.0')
    const [started] = await startDue(ctx)
    expect(await runViewModel(ctx.db, started!.run!)).toMatchObject({ build: '1.0' })
  })
  test('what ended while it was paused is not followed when it goes on', async () => {
    const one = await start()
    const text = (more: string) =>
      `rotation: next\ntitle: NEXT\nwhat: [{ case: b }]\nwhere: { environments: [wide] }\nfollows: { ` +
      `rotation: first }\n${more}`
    await seedFiles(ctx, { 'next.rotation.yaml': text('paused: true\n') })
    await startRotation(ctx, 'first', {}, 'Wren')
    await end(await claim(one), 'passed')
    expect(await startDue(ctx)).toEqual([])
    await seedFiles(ctx, { 'next.rotation.yaml': text('') })
    expect(await startDue(ctx)).toEqual([])
  })
  test('it stands on the rota at the likely end of what it follows, with its seats, and cannot be moved', async () => {
    await start()
    const soon = new Date(Date.now() + 3_600_000).toISOString().slice(0, 16)
    await seedFiles(ctx, {
      'first.rotation.yaml':
        `rotation: first\ntitle: FIRST\nwhat: [{ case: a }]\nretries: 0\nwhere: { environments: [wide] ` +
        `}\nwhen: { timezone: UTC, start: ${soon} }\n`,
    })
    const { occurrences, rotations } = await rotaViewModel(ctx, new Date(), new Date(Date.now() + 86_400_000))
    const [first, next] = occurrences
    expect([first, next]).toMatchObject([
      { rotation: 'first', state: 'planned' },
      { rotation: 'next', state: 'planned', behind: 'FIRST', seats: { test: 1 } },
    ])
    expect(Date.parse(next!.at)).toBe(Date.parse(first!.at) + first!.p50Ms)
    expect(rotations.find(({ key }) => key === 'next')).toMatchObject({
      when: 'after FIRST, when it passed',
      next: next!.at,
    })
  })
  test('not when that failed, and it is noted why', async () => {
    const one = await start()
    await startRotation(ctx, 'first', {}, 'Wren')
    await end(await claim(one), 'failed')
    expect(await startDue(ctx)).toMatchObject([
      {
        rotation: 'next',
        did: 'skipped',
        why: expect.stringMatching(/^run \d+ of FIRST did not pass$/) as unknown,
      },
    ])
  })
})

test('not beside another rotation: it is skipped and says which', async () => {
  await addAgent(ctx, 'one')
  await keep('other', 'where: { environments: [wide] }\n')
  await keep(
    'night',
    'where: { environments: [wide] }\nwhen: { rule: FREQ=DAILY, timezone: UTC, start: ' +
      '2026-11-01T22:00, notWith: [other] }\n',
  )
  await startDue(at('2026-11-10T12:00:00Z'))
  await startRotation(ctx, 'other', {}, 'Wren')
  expect(await startDue(at('2026-11-10T22:00:01Z'))).toMatchObject([
    { rotation: 'night', did: 'skipped', why: 'OTHER runs, and it is not to start beside it' },
  ])
})

test('a calendar of the workspace keeps its rotations from starting', async () => {
  await addAgent(ctx, 'one')
  await expect(
    putBlackoutCalendars(
      ctx,
      [
        {
          key: 'drills',
          title: 'Drills',
          blackout: [{ start: '2026-11-10T23:00', end: '2026-11-10T21:00' }],
        },
      ],
      'Wren',
    ),
  ).rejects.toMatchObject({ code: 'BODY_INVALID', message: 'Drills: it ends before it starts.' })
  await putBlackoutCalendars(
    ctx,
    [{ key: 'drills', title: 'Drills', blackout: [{ start: '2026-11-10T21:00', end: '2026-11-10T23:00' }] }],
    'Wren',
  )
  await keep(
    'night',
    'where: { environments: [wide] }\nwhen: { rule: FREQ=DAILY, timezone: UTC, start: ' +
      '2026-11-01T22:00, calendars: [drills] }\n',
  )
  await startDue(at('2026-11-10T12:00:00Z'))
  expect(await startDue(at('2026-11-10T22:00:01Z'))).toEqual([])
  expect(await startDue(at('2026-11-11T22:00:01Z'))).toHaveLength(1)
})

test.each([
  ['its last time has passed', 'until: 2026-01-02', 'over'],
  ['blackouts take every one', "blackout: [{ start: 2026-01-01, end: '2999-01-01' }]", 'blackout'],
])('no start is left, and why: %s', async (_, more, why) => {
  const { definition } = parseDefinition(
    'n.rotation.yaml',
    rotation(
      'n',
      `where: { environments: [wide] }\nwhen: { rule: FREQ=DAILY, timezone: UTC, start: ` +
        `2026-01-01T22:00, ${more} }\n`,
    ),
  )
  const { when } = definition as Rotation
  expect(await nextStarts(ctx, when!)).toMatchObject({ starts: [], none: why })
})

describe('the rota', () => {
  const tomorrow = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10)
  const look = () =>
    rotaViewModel(
      ctx,
      new Date(`${tomorrow}T00:00:00Z`),
      new Date(Date.parse(`${tomorrow}T00:00:00Z`) + 86_400_000),
    )
  const two = async () => {
    await addAgent(ctx, 'one', 2)
    for (const key of ['p', 'q'])
      await keep(
        key,
        `where: { environments: [wide] }\nwhen: { rule: FREQ=DAILY, timezone: UTC, start: ` +
          `${tomorrow}T22:00 }\n`,
      )
  }
  test('two that want the same seats at once clash; the proposed move, taken, mends it; going back brings it back', async () => {
    await two()
    const viewModel = await look()
    expect(viewModel.occurrences.map(({ id, state, seats }) => [id, state, seats])).toEqual([
      [`p@${tomorrow}T22:00:00.000Z`, 'planned', { test: 2 }],
      [`q@${tomorrow}T22:00:00.000Z`, 'planned', { test: 2 }],
    ])
    expect(viewModel.clashes).toMatchObject([{ pool: 'test', need: 4, have: 2 }])
    const fix = viewModel.clashes[0]!.fixes[0]!
    if (fix.do !== 'move') throw new Error('a move was expected')
    const [key, from] = fix.id.split('@') as [string, string]
    const { before } = await changeRota(
      ctx,
      key,
      { move: { at: from, to: fix.at, series: false } },
      'Wren',
      Date.now(),
    )
    expect((await look()).clashes).toEqual([])
    expect((await look()).occurrences.find(({ rotation: of }) => of === key)).toMatchObject({
      at: fix.at,
      movedFrom: from,
    })
    expect(before).toBe(1)
  })
  test('what has passed cannot be moved to, and nothing is changed', async () => {
    await two()
    await expect(
      changeRota(
        ctx,
        'p',
        { move: { at: `${tomorrow}T22:00:00Z`, to: '2026-01-01T00:00:00Z', series: false } },
        'Wren',
        Date.now(),
      ),
    ).rejects.toMatchObject({
      code: 'BODY_INVALID',
      message: expect.stringContaining('has passed') as unknown,
    })
  })
  test('a paused one plans nothing; what was skipped and what ran are in its past', async () => {
    await two()
    await changeRota(ctx, 'p', { paused: true }, 'Wren', Date.now())
    expect((await look()).occurrences.map(({ rotation: of }) => of)).toEqual(['q'])
    await ctx.db.insert(occurrenceStarts).values({
      rotationKey: 'q',
      at: new Date(Date.now() - 60_000),
      state: 'skipped',
      why: 'nobody was there',
    })
    const run = await startRotation(ctx, 'q', {}, 'Wren')
    const past = await rotaViewModel(ctx, new Date(Date.now() - 3_600_000), new Date(Date.now() + 1000))
    expect(past.occurrences.map(({ state, note, runId }) => [state, note ?? runId])).toEqual([
      ['skipped', 'nobody was there'],
      ['started', run],
    ])
  })
  test('a clash of the next 24 hours waits for somebody on Now', async () => {
    await addAgent(ctx, 'one', 2)
    const soon = new Date(Date.now() + 2 * 3_600_000).toISOString().slice(0, 16)
    for (const key of ['p', 'q'])
      await keep(key, `where: { environments: [wide] }\nwhen: { timezone: UTC, start: ${soon} }\n`)
    expect((await nowViewModel(ctx, 0)).waiting.filter(({ area }) => area === 'Rota')).toMatchObject([
      { title: 'P and Q clash', why: '4 seats of test wanted, 2 there' },
    ])
  })
  test('one that can run nowhere is on the rota with what is wrong', async () => {
    await keep('p', 'where: { environments: [wide], pool: Gone }\n')
    expect((await look()).rotations).toMatchObject([
      { key: 'p', problem: 'the pool “Gone” has no seats now' },
    ])
  })
  test('as iCalendar: an event a start, as long as nine times in ten', async () => {
    await two()
    const text = rotaCalendar(await look(), 'http://oak.test')
    expect(text.split('\r\n').filter((line) => /^(BEGIN:VEVENT|DTSTART|SUMMARY|URL)/.test(line))).toEqual(
      ['p', 'q'].flatMap((key) => [
        'BEGIN:VEVENT',
        `DTSTART:${tomorrow.replaceAll('-', '')}T220000Z`,
        `SUMMARY:${key.toUpperCase()}`,
        `URL:http://oak.test/rotations/${key}`,
      ]),
    )
    expect(text).toMatch(/^BEGIN:VCALENDAR\r\nVERSION:2.0\r\n/)
  })
})

test('an agent that is gone is taken out of the fleet, one that is here is not; it is back when it registers', async () => {
  const { forgetAgent, registerAgent } = await import('../dispatch')
  const one = await addAgent(ctx, 'one')
  await expect(forgetAgent(ctx, one.id, 'Wren')).rejects.toMatchObject({
    code: 'NOT_FOUND',
    message: expect.stringContaining('is here') as unknown,
  })
  await ctx.db.update(agents).set({ heartbeatAt: sql`now() - interval '1 hour'`, pool: 'Elsewhere' })
  await forgetAgent(ctx, one.id, 'Wren')
  const { listAgents } = await import('@/db/agents')
  expect(await listAgents(ctx.db, ctx.leaseMs)).toEqual([])
  const of = {
    instance: 'i',
    pool: 'test',
    version: '1',
    protocol: AGENT_PROTOCOL,
    seats: 1,
    environments: ['wide'],
    simulated: true,
  }
  await registerAgent(ctx, { id: one.tokenId!, scope: 'one' }, { name: 'one', ...of })
  // where a person put it
  expect(await listAgents(ctx.db, ctx.leaseMs)).toMatchObject([{ name: 'one', pool: 'Elsewhere' }])
  await expect(
    registerAgent(ctx, { id: one.tokenId!, scope: 'one' }, { name: 'two', ...of }),
  ).rejects.toMatchObject({
    code: 'AGENT_NAME_TAKEN',
    message: expect.stringContaining('for the agent “one” alone') as unknown,
  })
})
