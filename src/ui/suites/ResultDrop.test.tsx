/** @jest-environment ./jest/page.cjs */
import { fireEvent, render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { answerWith, Around, refusal } from '../testing/around'
import { ResultDrop } from './ResultDrop'

const FILE = new File(['<testsuites/>'], 'quay.xml', { type: 'text/xml' })
const TAKE_IN = 'POST /api/results?name=quay.xml&build=2026.11.4'
const dropOn = (element: Element, types = ['Files']) =>
  fireEvent.drop(element, { dataTransfer: { types, files: [FILE] } })

function show(role: 'tester' | 'viewer', goTo: (address: string) => void = () => {}) {
  render(
    <Around role={role} goTo={goTo}>
      <ResultDrop>
        <p>Suites</p>
      </ResultDrop>
    </Around>,
  )
  return screen.getByText('Suites')
}

test('a dropped file is asked its build, and becomes a run of it', async () => {
  const person = userEvent.setup()
  const gone: string[] = []
  const asked = answerWith({
    [TAKE_IN]: { run: 12, address: '/runs/12', summary: { cases: 2, outcomes: {}, problems: [] } },
  })
  dropOn(show('tester', (address) => gone.push(address)))
  await screen.findByRole('dialog', { name: 'Take in quay.xml' })
  expect(asked).toEqual([])
  await person.type(screen.getByLabelText('Build that it is of'), ' 2026.11.4 {Enter}')
  await waitFor(() => expect(gone).toEqual(['/runs/12']))
  expect(asked).toHaveLength(1)
  expect(screen.queryByRole('dialog')).toBeNull()
})

test('a refusal stands beside what was said, and the build is kept', async () => {
  const person = userEvent.setup()
  answerWith({ [TAKE_IN]: refusal(422, 'BAD_FILE', 'it is cut off', { line: 3 }) })
  dropOn(show('tester'))
  await person.type(await screen.findByLabelText('Build that it is of'), '2026.11.4')
  await person.click(screen.getByRole('button', { name: 'Take in' }))
  expect((await screen.findByRole('alert')).textContent).toBe(
    'quay.xml, line 3: it is cut off. Nothing was taken in.',
  )
  expect(screen.getByLabelText('Build that it is of')).toHaveProperty('value', '2026.11.4')
})

test.each([
  ['who only looks', 'viewer', ['Files']],
  ['what is no file', 'tester', ['text/plain']],
] as const)('a drop of %s does nothing', (_, role, types) => {
  dropOn(show(role), [...types])
  expect(screen.queryByRole('dialog')).toBeNull()
})
