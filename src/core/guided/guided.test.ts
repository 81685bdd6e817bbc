import { outlineOf } from '../execution'
import type { Routine, Step } from '../model'
import { testCase } from '../model/testing/library'
import { randomFrom } from '../execution'
import { concluded, guidedSteps, isJudged, logOf, standOf, type GuidedVerdict } from '.'

const routine = (key: string, steps: Step[]): Routine =>
  ({
    kind: 'routine',
    key,
    title: key,
    parameters: {},
    steps,
    undo: [],
  }) as unknown as Routine
const look = (words: string, expected?: string): Step => ({
  verb: 'do',
  words,
  ...(expected !== undefined && { expected }),
})
const values = {
  parameters: { vessel: 'MV ${row.vessel}' },
  row: { vessel: 'Skerry', port: 'Tolva' },
  environment: { key: 'handset', title: 'Handset', browser: 'webkit', os: 'ios', locale: 'en-GB' },
  build: '2026.11.2',
  runId: 7,
} as const
const sheet = (steps: Step[], more: object = {}, routines: Routine[] = []) =>
  guidedSteps(
    testCase('gate', { steps, ...more }),
    new Map(routines.map((one) => [one.key, one])),
    values as never,
  )
const said = (path: string, is: GuidedVerdict['is'], atMs: number, note = ''): GuidedVerdict => ({
  path,
  is,
  note,
  atMs,
  pictures: [],
})

describe('the sheet', () => {
  test('values are put in; what only a machine knows stays as it is written', () => {
    const [step] = sheet([look('Board ${vessel} at ${row.port}, ${secret.desk}', 'the deck of ${fake.name}')])
    expect(step).toMatchObject({
      path: 'main.0',
      kind: 'do',
      words: { object: 'Board MV Skerry at Tolva, ${secret.desk}' },
      expected: 'the deck of ${fake.name}',
    })
  })
  test('routines are opened with their own values; the entry comes first, undo last', () => {
    const steps = sheet(
      [{ verb: 'use', routine: 'board', with: { who: '${row.port} crew' } }],
      { entry: 'gate-open', undo: [look('Close the gate')] },
      [routine('gate-open', [look('Open the gate')]), routine('board', [look('Board ${who}, ${vessel}')])],
    )
    expect(steps.map(({ path, kind, words }) => `${path} ${kind} ${words.object}`)).toEqual([
      expect.stringMatching(/^entry.0 group /),
      'entry.0.0 do Open the gate',
      expect.stringMatching(/^main.0 group /),
      'main.0.0 do Board Tolva crew, ${vessel}',
      'undo.0 do Close the gate',
    ])
  })
  test('a routine is called by its title, and what is not given to it is as it says itself', () => {
    const book = { ...routine('book', [look('From ${from} to ${to}')]), title: 'Book a crossing' }
    const [group, step] = sheet([{ verb: 'use', routine: 'book', with: { to: 'Skerrow' } }], {}, [
      { ...book, parameters: { from: '${row.port}', to: 'Maren' } },
    ])
    expect(group!.words).toMatchObject({ verb: '', object: 'Book a crossing' })
    expect(step!.words.object).toBe('From Tolva to Skerrow')
  })
  test('both branches are there with paths of their own; what is switched off is not', () => {
    const steps = sheet([
      {
        verb: 'if',
        condition: { visible: { text: 'Storm' } },
        steps: [look('Wait'), { ...look('Never'), off: true }],
        otherwise: [look('Sail')],
      },
    ])
    expect(steps.map(({ path, otherwise }) => [path, otherwise])).toEqual([
      ['main.0', undefined],
      ['main.0.0', undefined],
      ['main.0.2', true],
    ])
  })
  test('a routine that uses itself ends, and so do many steps', () => {
    const self = routine('again', [
      { verb: 'use', routine: 'again', with: {} },
      { verb: 'use', routine: 'again', with: {} },
    ])
    expect(sheet([{ verb: 'use', routine: 'again', with: {} }], {}, [self]).length).toBeLessThanOrEqual(2000)
    expect(sheet([{ verb: 'use', routine: 'gone', with: {} }])).toHaveLength(1)
  })
})

describe('what is said of it', () => {
  const steps = sheet([
    { verb: 'block', title: 'Board', steps: [look('Scan the card', 'it is green'), look('Count')] },
    look('Close the gate'),
  ])
  const all = steps.filter(isJudged).map(({ path }) => path)

  test('it is over once all is judged, or something was not so', () => {
    expect(concluded(steps, [], 'Priya')).toBeUndefined()
    expect(concluded(steps, [said(all[0]!, 'passed', 5)], 'Priya')).toBeUndefined()
    expect(concluded(steps, [said(all[0]!, 'failed', 5, 'red')], 'Priya')).toEqual({
      outcome: 'failed',
      ms: 5,
      failure: {
        kind: 'check',
        path: 'main.0.0',
        message: 'Priya saw that it is not so',
        expected: 'it is green',
        actual: 'red',
      },
    })
  })
  test.each([
    [['passed', 'passed', 'passed'], 'passed', undefined],
    [['passed', 'skipped', 'passed'], 'passed', undefined],
    [['skipped', 'skipped', 'skipped'], 'skipped', undefined],
    [['cannot', 'failed', 'passed'], 'failed', 1],
    [['passed', 'cannot', 'cannot'], 'errored', 1],
  ] as const)('%j is %s', (verdicts, outcome, at) => {
    const result = concluded(
      steps,
      verdicts.map((is, i) => said(all[i]!, is, i + 1)),
      'Priya',
    )
    expect(result).toMatchObject({ outcome, ms: 3 })
    expect(result!.failure?.path).toBe(at === undefined ? undefined : all[at])
  })
  test('nothing to judge is passed; unknown steps are no verdicts', () => {
    expect(concluded([], [], 'Priya')).toMatchObject({ outcome: 'passed', ms: 0 })
    expect(standOf(steps, [said('main.9', 'passed', 1)])).toMatchObject({ judged: 0, of: 3, next: all[0] })
  })

  test('its log is read as that of any attempt', () => {
    const verdicts = [said(all[0]!, 'passed', 1000), said(all[1]!, 'failed', 4000, 'two are missing')]
    verdicts[1]!.pictures = [{ hash: 'a'.repeat(64), width: 8, height: 6 }]
    const log = logOf(steps, verdicts, 'Priya', { device: 'a handset' }, null)
    const lines = outlineOf(
      testCase('gate', {
        steps: [
          { verb: 'block', title: 'Board', steps: [look('Scan the card', 'it is green'), look('Count')] },
          look('Close the gate'),
        ],
      }),
      [],
      log,
    )
    expect(lines.map(({ path, mark, ms, failing }) => [path, mark, ms, failing])).toEqual([
      ['main.0', 'failed', 4000, false],
      ['main.0.0', 'passed', 1000, false],
      ['main.0.1', 'failed', 3000, true],
      ['main.1', 'skipped', undefined, false],
    ])
    expect(lines[2]!.after).toMatchObject({ width: 8 })
  })

  test('any verdicts make a sound log: numbers in order, each step begun once and ended once, time forward', () => {
    for (let seed = 1; seed <= 200; seed++) {
      const random = randomFrom(seed)
      const deep = (depth: number): Step[] =>
        Array.from({ length: 1 + Math.floor(random() * 3) }, (): Step =>
          depth > 0 && random() < 0.4
            ? { verb: 'block', title: 'Part', steps: deep(depth - 1) }
            : look('Look', random() < 0.5 ? 'so' : undefined),
        )
      const some = sheet(deep(3))
      const verdicts = some
        .filter((step) => isJudged(step) && random() < 0.8)
        .map(({ path }) =>
          said(
            path,
            (['passed', 'failed', 'cannot', 'skipped'] as const)[Math.floor(random() * 4)]!,
            random() * 1e6,
          ),
        )
      const log = logOf(some, verdicts, 'Priya', {}, { hash: 'v', startMs: 5 })
      expect(log.at(-1)).toMatchObject({ type: 'evidence', kind: 'video', hash: 'v', startMs: 5 })
      expect(log.map(({ no }) => no)).toEqual(log.map((_, i) => i + 1))
      const [begun, ended] = (['step-started', 'step-ended'] as const).map((type) =>
        log.flatMap((event) => (event.type === type ? [event.path] : [])),
      )
      expect(new Set(begun).size).toBe(begun!.length)
      expect(ended!.toSorted()).toEqual(begun!.toSorted())
      expect(
        log.every(({ atMs }, i) => i === 0 || atMs >= log[i - 1]!.atMs || log[i]!.type === 'step-started'),
      ).toBe(true)
      for (const event of log) if (event.type === 'step-ended') expect(event.ms).toBeGreaterThanOrEqual(0)
    }
  })
})
