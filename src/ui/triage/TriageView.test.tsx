/** @jest-environment ./jest/page.cjs */
import { screen, waitFor, within } from '@testing-library/react'
import type { CauseDecision } from '@/core/view-models'
import { refusal } from '../testing/around'
import { decision, desk, group, open, posts } from './testing/desk'

const chosen = () => screen.getByRole('heading', { level: 2, name: /covered|fare/i }).textContent

test('what is to be decided stands before what is decided, each with why', () => {
  open(
    desk(
      group('covered', 76, { isNew: true, requirements: ['FSF-R30', 'FSF-R31'], waiting: ['Wren'] }),
      group('fare', 75, {
        decision: decision('test-fault', { stands: false, build: '2026.11.2' }),
        waiting: ['Joss', 'Priya'],
      }),
      group('port', 73, { isCurrent: false, isNew: true }),
      group('date', 74, { decision: decision('known-defect') }),
    ),
  )
  expect(screen.getByText('4 causes of 12 failures; 3 to decide')).toBeTruthy()
  const list = (name: string) => within(screen.getByRole('list', { name })).getAllByRole('button')
  expect(list('To decide').map(({ textContent }) => textContent)).toEqual([
    'covered3new in 2026.11.3, blocks 2 requirements, Wren waits, 61 % of the product, 2 cases',
    'fare3a fault of the test in 2026.11.2: look again, 2 people wait, 61 % of the product, 2 cases',
    'port3last in Gate Handsets 73, 2026.11.3, 61 % of the product, 2 cases',
  ])
  expect(screen.getByText(/^Blocks/).textContent).toBe('Blocks FSF-R30, FSF-R31. Wren waits for it.')
  expect(list('Decided').map(({ textContent }) => textContent)).toEqual(['date3a known defect, 2 cases'])
})

test('a key decides of the cause in the run it was found in, and the next one opens', async () => {
  const { asked, user } = open(desk(group('covered', 76), group('fare', 75)), {
    'POST /api/runs/76/causes/decisions': { ids: [9] },
  })
  expect(chosen()).toBe('covered')
  await user.keyboard('1')
  await waitFor(() => expect(chosen()).toBe('fare'))
  expect(posts(asked)).toEqual([
    [
      '/api/runs/76/causes/decisions',
      { as: 'product-defect', note: '', causes: [{ signature: 'covered', seen: null }] },
    ],
  ])
})

test('what is read stays when something more urgent comes to the top, and a key is of what is read', async () => {
  const { asked, user } = open(desk(group('fare', 7), group('count', 7)), {
    'GET /api/triage?days=2': desk(group('covered', 8), group('fare', 7), group('count', 7)),
    'POST /api/runs/7/causes/decisions': { ids: [9] },
  })
  expect(await screen.findByRole('button', { name: /^covered/ })).toBeTruthy()
  expect(chosen()).toBe('fare')
  await user.keyboard('1')
  await waitFor(() => expect(posts(asked)).toHaveLength(1))
  expect(posts(asked)[0]![1]).toMatchObject({ causes: [{ signature: 'fare' }] })
})

test('a failure of a result file shows what that says, and is read and drafted beside its run', async () => {
  const [first, ...others] = group('covered', 76).members
  const members = [{ ...first!, attemptId: null }, ...others]
  const decided = group('covered', 76, { members, decision: decision('test-fault') })
  const { goTo, user } = open(desk(decided), {
    'GET /api/case-runs/covered a/occurs': { words: 'Good there with build 2026.11.2.' },
    'GET /api/case-runs/covered a': { message: 'no berth', line: 7, properties: {}, attachments: [] },
  })
  expect(await screen.findByText('no berth')).toBeTruthy()
  expect(screen.getByText(/taken in from a result file/)).toBeTruthy()
  expect(await screen.findByText('Good there with build 2026.11.2.')).toBeTruthy()
  // there is no case here that could be mended, and nothing to run again
  expect(screen.queryByRole('link', { name: /Open the case/ })).toBeNull()
  expect(screen.queryByText('Run again to find out')).toBeNull()
  await user.keyboard('o')
  expect(goTo).toHaveBeenLastCalledWith('/runs/76?cell=covered a')
  await user.keyboard('d')
  expect(goTo).toHaveBeenLastCalledWith('/runs/76?cell=covered a&draft=1')
  await user.keyboard('.')
  await user.keyboard('o')
  expect(goTo).toHaveBeenLastCalledWith('/attempts/covered-b')
})

test('of a run that goes on it is said', () => {
  const [run] = group('covered', 76).runs
  open(desk(group('covered', 76, { runs: [{ ...run!, endedAt: null }] })))
  expect(screen.getByText(/still running/)).toBeTruthy()
})

test('a cause is taken for another by key, and apart again', async () => {
  const { asked, user } = open(
    desk(group('fare', 7, { merges: [{ id: 4, title: 'toll', by: 'Joss' }] }), group('count', 7)),
    {
      'POST /api/triage/merges': { id: 5 },
      'DELETE /api/triage/merges/4': {},
    },
  )
  await user.keyboard('s')
  expect(screen.getByRole('region', { name: 'The same as' }).textContent).toContain('count')
  await user.keyboard('1')
  expect(asked.findLast(({ method }) => method === 'POST')!.body).toEqual({
    signature: 'fare',
    title: 'fare',
    into: 'count',
    intoTitle: 'count',
  })
  await waitFor(() =>
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'take apart' }).disabled).toBe(false),
  )
  await user.click(screen.getByRole('button', { name: 'take apart' }))
  expect(asked.some(({ method }) => method === 'DELETE')).toBe(true)
})

test('a word is of the cause it was typed for, and is there again with it', async () => {
  const { user } = open(desk(group('fare', 7), group('count', 7)))
  const word = () => screen.getByRole<HTMLInputElement>('textbox', { name: 'A word on it' })
  await user.type(word(), 'since the new tariff')
  await user.click(screen.getByRole('button', { name: /^count/ }))
  expect(word().value).toBe('')
  await user.click(screen.getByRole('button', { name: /^fare/ }))
  expect(word().value).toBe('since the new tariff')
})

test('a known defect is chosen among those that are like it, and keys mean these meanwhile', async () => {
  const known = (id: number, likeness: number) => ({
    id,
    title: `Fares of ${id}`,
    number: id === 7 ? 'FSF-186' : null,
    state: 'open',
    likeness,
    because: 'both speak of fares',
  })
  const { asked, user } = open(desk(group('fare', 7)), {
    'GET /api/runs/7/causes/known?signature=fare': [known(7, 0.82), known(8, 0.4)],
    'POST /api/runs/7/causes/decisions': { ids: [3] },
  })
  await user.keyboard('2')
  const list = await screen.findByRole('region', { name: 'Which known defect' })
  expect(list.textContent).toContain('FSF-186: Fares of 7')
  expect(list.textContent).toContain('82 %')
  await user.keyboard('{Escape}')
  expect(screen.queryByRole('region', { name: 'Which known defect' })).toBeNull()
  await user.keyboard('2')
  await screen.findByText(/Fares of 8/)
  await user.keyboard('2') // the second of the list, not the decision of that key
  expect(asked.findLast(({ method }) => method === 'POST')!.body).toMatchObject({
    as: 'known-defect',
    defectId: 8,
  })
})

test('keys walk causes and failures, and lead into the log and the draft', async () => {
  const { goTo, user } = open(desk(group('covered', 76), group('fare', 75)))
  await user.keyboard('..,o')
  expect(goTo).toHaveBeenLastCalledWith('/attempts/covered-b')
  await user.keyboard('jd')
  expect(goTo).toHaveBeenLastCalledWith('/attempts/fare-a?draft=1')
  await user.keyboard('j')
  expect(chosen()).toBe('fare') // there is no further one
})

test('a decision is taken back; a refusal is told, and an attempt that is gone breaks nothing else', async () => {
  const { asked, user } = open(desk(group('covered', 76, { decision: decision('unclear') })), {
    'DELETE /api/triage/decisions/9': refusal(404, 'NOT_FOUND', 'It was taken back already.'),
  })
  expect((await screen.findByRole('alert')).textContent).toContain('There is no such attempt any more.')
  await user.keyboard('z')
  expect(await screen.findByText('It was taken back already.')).toBeTruthy()
  expect(posts(asked).map(([path]) => path)).toEqual(['/api/triage/decisions/9'])
  expect(screen.getByText(/width narrow: 3 of 3 failed/)).toBeTruthy()
})

test('without failures it says so; who may only look decides nothing', async () => {
  open(desk())
  expect(screen.getByRole('heading', { name: 'Nothing failed' })).toBeTruthy()
  const { asked, user } = open(desk(group('covered', 76)), {}, 'viewer')
  await user.keyboard('1z')
  expect(posts(asked)).toEqual([])
  expect(
    screen.getByRole<HTMLButtonElement>('button', { name: /A defect of the product|a defect of the product/ })
      .disabled,
  ).toBe(true)
})

test('other days are asked for, and stand in the address, whichever one came with', async () => {
  const { asked, user } = open(desk(group('covered', 76)), {
    'GET /api/triage?days=7': { ...desk(group('covered', 76), group('fare', 70)), days: 7 },
  })
  await user.selectOptions(screen.getByRole('combobox', { name: 'Runs of' }), 'a week')
  expect(await screen.findByText('2 causes of 6 failures; 2 to decide')).toBeTruthy()
  expect(asked.map(({ path }) => path)).toContain('/api/triage?days=7')
})

test('what was decided this week is told, and how soon', () => {
  open({ ...desk(group('covered', 76)), lately: { decided: 38, afterMs: 110_000 } })
  expect(screen.getByText('38 decided this week, half of them within 1 min 50 s of the run')).toBeTruthy()
})

describe('what follows a decision', () => {
  const decided = (as: CauseDecision['as'], role: 'tester' | 'coordinator' = 'coordinator', more = {}) =>
    open(desk(group('covered', 12, { decision: decision(as) })), more, role)

  test('of a fault of the test the case is opened at the step', () => {
    decided('test-fault')
    expect(screen.getByRole('link', { name: 'Open the case at the step' }).getAttribute('href')).toBe(
      '/cases/gate-boarding?step=main.2.1',
    )
  })
  test('of the environment the agent that all failures have in common is drained, by who may', async () => {
    const { user, asked } = decided('environment-fault', 'coordinator', {
      'GET /api/fleet': { agents: [{ id: 'A1', name: 'maren-02' }] },
      'POST /api/fleet/A1/drain': {},
    })
    await user.click(screen.getByRole('button', { name: 'Drain maren-02' }))
    await waitFor(() => expect(posts(asked)).toEqual([['/api/fleet/A1/drain', { draining: true }]]))
  })
  test('a tester drains nothing', () => {
    decided('environment-fault', 'tester')
    expect(screen.queryByRole('button', { name: /Drain/ })).toBeNull()
  })
  test('of an intended change what was found is adopted in all of the cause', async () => {
    const { user, asked } = decided('intended-change', 'coordinator', {
      'POST /api/attempts/covered-a/adoption': { files: [], refused: [] },
    })
    await user.click(screen.getByRole('button', { name: 'Adopt what was found…' }))
    expect(await screen.findByRole('radio', { name: 'All of its cause in the run' })).toBeTruthy()
    await waitFor(() =>
      expect(posts(asked)).toEqual([
        ['/api/attempts/covered-a/adoption', { path: 'main.2.1', which: 'cause' }],
      ]),
    )
  })
})

describe('running again to find out', () => {
  const PATH = '/api/attempts/covered-a/experiments'
  const plan = {
    share: 0.61,
    caseRuns: 3,
    ms: 90_000,
    arms: [
      { arm: 'again', environment: 'Android 16', build: '2026.11.4', times: 1 },
      { arm: 'before', environment: 'Android 16', build: '2026.11.3', times: 2 },
    ],
  }
  test('the runs are proposed, may be changed, and are started together', async () => {
    const { user, asked } = open(desk(group('covered', 12)), {
      [`GET ${PATH}?cause=covered`]: { plan, past: [] },
      [`POST ${PATH}`]: { runs: [41, 42] },
    })
    await screen.findByRole('button', { name: /Which runs would tell/ })
    await user.keyboard('r')
    const dialog = await screen.findByRole('dialog')
    expect(dialog.textContent).toContain('61 %')
    const again = within(dialog).getByLabelText('Times: The same again')
    await user.clear(again)
    expect(within(dialog).getByRole<HTMLButtonElement>('button', { name: /^Start/ }).disabled).toBe(false)
    await user.type(again, '99')
    expect(within(dialog).getByRole<HTMLButtonElement>('button', { name: /^Start/ }).disabled).toBe(true)
    await user.clear(again)
    await user.type(again, '2')
    await user.click(within(dialog).getByRole('button', { name: 'Start 4 case runs' }))
    await waitFor(() =>
      expect(posts(asked)).toEqual([[PATH, { signature: 'covered', times: { again: 2, before: 2 } }]]),
    )
  })
  test('what they told is said, and that some go on', async () => {
    const arm = { ...plan.arms[0]!, runId: 41, times: 3, passed: 0, failed: 2, other: 0, open: 1 }
    const told = [{ cause: 'product-defect', before: 0.41, after: 0.88 }]
    const made = { id: 2, build: '2026.11.4', by: 'Priya', at: '2026-12-01T00:00:00Z' }
    open(
      desk(group('covered', 12)),
      {
        [`GET ${PATH}?cause=covered`]: {
          plan: null,
          past: [
            { ...made, arms: [arm], told: null },
            { ...made, id: 1, arms: [{ ...arm, failed: 3, open: 0 }], told },
          ],
        },
      },
      'viewer',
    )
    const part = await screen.findByRole('region', { name: 'Run again to find out' })
    expect(part.textContent).toContain('1 of 3 runs to come')
    expect(part.textContent).toContain('41 % before, 88 % now')
    expect(within(part).queryByRole('button')).toBeNull()
  })
})

test('a cause is given to somebody with a word, and each has their own', async () => {
  const given = { person: 'Priya Castellan', note: '', by: 'Wren', at: '2026-12-01T00:00:00Z' }
  const { user, asked } = open(desk(group('covered', 12), group('fare', 12, { with: given })), {
    'POST /api/triage/handovers': {},
  })
  await user.keyboard('g')
  await user.selectOptions(screen.getByLabelText('Who decides it', { selector: 'select' }), 'Joss Hale')
  await user.type(screen.getByLabelText('A word for them'), 'you know the gate')
  await user.click(screen.getByRole('button', { name: 'Give it' }))
  await waitFor(() =>
    expect(posts(asked)).toEqual([
      ['/api/triage/handovers', { signature: 'covered', person: 'Joss Hale', note: 'you know the gate' }],
    ]),
  )
  expect(
    within(screen.getByRole('navigation', { name: 'Causes' })).getByText(/with Priya Castellan/),
  ).toBeTruthy()
})
