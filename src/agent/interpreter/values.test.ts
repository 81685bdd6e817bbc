import type { Matcher, Step } from '@/core/model'
import { attempt, click, seen, withApi } from './testing/scripted'

withApi()

test('what is typed into a secret field is in no event', async () => {
  const { events } = await attempt(
    [{ verb: 'type', in: { text: 'x', label: 'Password' }, value: '${word}' }],
    { x: seen('') },
    { work: { parameters: { word: 'low-tide' } } },
  )
  expect(JSON.stringify(events)).not.toContain('low-tide')
})

describe('values', () => {
  test('made-up values stay the same in one place, and are in the log', async () => {
    const steps: Step[] = [
      { verb: 'type', in: { text: 'x' }, value: '${fake.name}' },
      { verb: 'type', in: { text: 'x' }, value: "${date(+1d, 'dd/MM/yyyy')}" },
      click('${who}'),
    ]
    const first = await attempt(steps, { x: seen('') }, { work: { parameters: { who: '${fake.id}' } } })
    expect(first.done[1]).toBe('type 31/03/2026 in x')
    expect(
      (await attempt(steps, { x: seen('') }, { work: { parameters: { who: '${fake.id}' } } })).done,
    ).toEqual(first.done)
    expect(
      (await attempt(steps, { x: seen('') }, { work: { seed: 2, parameters: { who: '${fake.id}' } } })).done,
    ).not.toEqual(first.done)
    const typed = /type (.*) in x/.exec(first.done[0]!)![1]
    expect(first.events).toContainEqual(
      expect.objectContaining({ type: 'step-started', path: 'main.0', values: { 'fake.name': typed } }),
    )
  })
  test('a secret is used, and appears nowhere', async () => {
    const secret = 'low tide/7'
    const { result, done, events } = await attempt(
      [
        { verb: 'type', in: { text: 'x' }, value: '${secret.desk}' },
        {
          verb: 'call',
          method: 'GET',
          url: 'api:/x?k=low%20tide%2F7',
          read: {},
          handoff: false,
          expect: { status: 418 },
        },
      ],
      { x: seen('') },
      { work: { secrets: { desk: secret }, parameters: { word: 'a ${secret.desk}' } } },
    )
    expect(done.slice(0, 2)).toEqual([expect.stringMatching(/^conceal low tide/), 'type low tide/7 in x'])
    expect(result.failure).toMatchObject({ kind: 'check' })
    for (const form of [secret, encodeURIComponent(secret)])
      expect(JSON.stringify([events, result])).not.toContain(form)
    expect(JSON.stringify(events)).toContain('••••')
  })
  const sees = (matcher: Matcher): Step => ({
    verb: 'check',
    of: { text: 'x' },
    subject: 'text',
    matcher,
    soft: false,
  })
  test.each<[string, Step, string, string]>([
    ['a letter of it', sees({ startsWith: 'low' }), 'low tide/7', 'failed'],
    ['a pattern of it', sees({ matches: '^[a-m]' }), 'low tide/7', 'failed'],
    ['whether something is more or less than it', sees({ atMost: '${secret.number}' }), '8', 'failed'],
    ['it from another secret that it is not', sees({ equals: '${secret.number}' }), 'low tide/7', 'failed'],
    [
      'a letter of it in an answer',
      {
        verb: 'call',
        method: 'GET',
        url: 'api:/echo?k=${secret.desk}',
        read: {},
        handoff: false,
        expect: { json: { '$.url': { contains: 'low' } } },
      },
      '',
      'failed',
    ],
    [
      'nothing else: all of it is what it is',
      sees({ equals: 'A ${secret.desk}.' }),
      'A low tide/7.',
      'passed',
    ],
  ])('a check cannot tell %s', async (_, step, text, outcome) => {
    const { result, events } = await attempt(
      [step],
      { x: seen(text) },
      { work: { secrets: { desk: 'low tide/7', number: '83021' } } },
    )
    expect(result.outcome).toBe(outcome)
    expect(JSON.stringify([events, result])).not.toMatch(/low tide|83021|[\ue000-\uf8ff]/)
  })
  test('a field that takes a secret by another name hides it all the same', async () => {
    const { hidden } = await attempt(
      [
        { verb: 'type', in: { text: 'x' }, value: 'PIN ${word}' },
        { verb: 'type', in: { text: 'y' }, value: 'plain' },
      ],
      { x: seen(''), y: seen('') },
      { work: { secrets: { desk: 'low tide/7' }, parameters: { word: '${secret.desk}' } } },
    )
    expect(hidden).toEqual([true, false])
  })
  test('pages give back no secret that a step named, also by another name; the applications are told', async () => {
    const { done } = await attempt(
      [
        { verb: 'type', in: { text: 'x' }, value: 'plain' },
        { verb: 'open', address: 'app:/search?q=${word}' },
      ],
      { x: seen('') },
      {
        work: {
          secrets: { desk: 'low-tide-7', other: 'never used' },
          parameters: { word: '${secret.desk}' },
          applications: { app: 'http://app/base' },
        },
      },
    )
    expect(done.slice(0, 3)).toEqual([
      'type plain in x',
      'conceal low-tide-7 http://app',
      'open http://app/base/search?q=low-tide-7',
    ])
  })
  test('handoffs come in as names and go out with the result, also when the case fails after', async () => {
    const { result, done } = await attempt(
      [
        click('${reference}'),
        { verb: 'read', of: { testId: 'ref' }, as: 'ticket', handoff: true },
        click('Gone'),
      ],
      { 'FS-1': seen(''), ref: seen('T-9') },
      { work: { handoffs: { reference: 'FS-1' } } },
    )
    expect(done[0]).toBe('click FS-1')
    expect(result).toMatchObject({ outcome: 'errored', handoffs: { ticket: 'T-9' } })
  })
  test('a parameter that refers to nothing is a matter of data', async () =>
    expect(
      (await attempt([], {}, { work: { parameters: { a: '${row.gone}' } } })).result.failure,
    ).toMatchObject({ kind: 'data', message: expect.stringContaining('row.gone') as string }))
  test('why a step is there stands in the log', async () =>
    expect(
      (await attempt([{ ...click('Go'), because: 'the morning sailing has seats' }], { Go: seen('') }))
        .events,
    ).toContainEqual(
      expect.objectContaining({ type: 'step-started', because: 'the morning sailing has seats' }),
    ))
  test('a limit of a block is one for all its steps', async () => {
    const wait: Step = { verb: 'wait', state: 'visible', timeMs: 3000 }
    expect(
      (await attempt([{ verb: 'block', title: 'B', limitMs: 4000, steps: [wait, wait, wait] }])).result,
    ).toMatchObject({ failure: { kind: 'time-limit', path: 'main.0.2' } })
  })
})
