/** @jest-environment ./jest/page.cjs */
import '../testing/browser'
import { jest } from '@jest/globals'
import { render, screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import type { Edit, TestCase } from '@/core/model'
import { parseDefinition } from '@/core/model/files'
import { editSource } from '@/core/model/editing'
import type { BenchViewModel } from '@/core/view-models'
import type { Draft } from '../edit/useDraft'
import { Around } from '../testing/around'
import { StepsPart } from './StepsPart'

const SOURCE = `case: board
title: Board a party
steps:
  - open: gate:/
  - click: { on: { text: Scan } }
  - click: { on: { text: Board } }
undo:
  - open: gate:/reset
`
const JOINT = `case: meet
title: Meet
roles:
  crew:
    steps:
      - open: gate:/
  passenger:
    steps:
      - open: booking:/
      - click: { on: { text: Show } }
`
const OFFERS: BenchViewModel['offers'] = {
  routines: [],
  tables: [],
  applications: [],
  databases: [],
  tags: [],
}

/** A bench without a server: edits are made in the text, as a draft does. */
function Steps({
  first,
  editable,
  onText,
}: {
  first: string
  editable: boolean
  onText(text: string): void
}) {
  const [source, setSource] = useState(first)
  const [at, setAt] = useState<string | null>(null)
  const edit = (...edits: Edit[]) => {
    const next = editSource(source, edits)
    setSource(next)
    onText(next)
    return true
  }
  const { definition } = parseDefinition('x.case.yaml', source)
  return (
    <StepsPart
      definition={definition as TestCase}
      draft={{ problems: [], warnings: [], edit } as unknown as Draft}
      viewModel={{ screens: {}, offers: OFFERS } as BenchViewModel}
      editable={editable}
      at={at}
      onAt={setAt}
    />
  )
}
function open(first = SOURCE, editable = true) {
  const onText = jest.fn<(text: string) => void>()
  render(
    <Around>
      <Steps first={first} editable={editable} onText={onText} />
    </Around>,
  )
  return { user: userEvent.setup(), text: () => onText.mock.calls.at(-1)?.[0] ?? first }
}
const tree = (name: string) => screen.getByRole('tree', { name })
const lines = (name: string) => within(tree(name)).getAllByRole('treeitem')
const choose = (user: ReturnType<typeof userEvent.setup>, words: string) =>
  user.click(screen.getByText(new RegExp(words)))

test('a chosen step is switched off and on by its key, and taken out', async () => {
  const { user, text } = open()
  await choose(user, 'Scan')
  await user.keyboard('x')
  expect(text()).toMatch(/- click: \{ on: \{ text: Scan \} \}\n {4}off: true/)
  await user.keyboard('x')
  expect(text()).toBe(SOURCE)
  await user.keyboard('{Delete}')
  expect(text()).not.toContain('Scan')
  expect(lines('Steps')).toHaveLength(2)
})

test('chosen steps go into a block', async () => {
  const { user, text } = open()
  await choose(user, 'Scan')
  await user.keyboard('{Shift>}{ArrowDown}{/Shift}w')
  expect(text()).toMatch(
    /- block: Block\n {4}steps:\n {6}- click: \{ on: \{ text: Scan \} \}\n {6}- click: \{ on: \{ text: Board \} \}/,
  )
})

test('a new step comes behind what is chosen, and is open to be written', async () => {
  const { user, text } = open()
  await choose(user, 'Scan')
  await user.keyboard('a')
  await user.click(await screen.findByRole('menuitem', { name: /^wait/ }))
  expect(text()).toMatch(/Scan \} \}\n {2}- wait:[^]*- click: \{ on: \{ text: Board \} \}/)
  expect(await screen.findByLabelText('Verb')).toBeTruthy()
})

test('an undo step is added to the undo steps', async () => {
  const { user, text } = open()
  await user.click(screen.getByRole('button', { name: 'Add an undo step' }))
  expect(text()).toMatch(/undo:\n {2}- open: gate:\/reset\n {2}- call:/)
})

test('a joint case shows the steps of each of its roles, and edits them in their place', async () => {
  const { user, text } = open(JOINT)
  expect(screen.getAllByRole('heading', { level: 2 }).map(({ textContent }) => textContent)).toEqual(
    expect.arrayContaining(['crew: 1 step', 'passenger: 2 steps']),
  )
  expect(lines('Steps of passenger')).toHaveLength(2)
  await choose(user, 'Show')
  await user.keyboard('x')
  expect(text()).toMatch(
    /passenger:\n {4}steps:\n {6}- open: booking:\/\n {6}- click: \{ on: \{ text: Show \} \}\n {8}off: true/,
  )
})

test('who may only read has no buttons for it, and keys change nothing', async () => {
  const { user, text } = open(SOURCE, false)
  await choose(user, 'Scan')
  await user.keyboard('xw{Delete}')
  expect(text()).toBe(SOURCE)
  expect(screen.queryByRole('button', { name: /Add|Switch|Take out/ })).toBeNull()
})
