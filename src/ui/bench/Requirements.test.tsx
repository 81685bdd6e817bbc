/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { answerWith, Around } from '../testing/around'
import { Requirements } from './Requirements'

const LIST = [
  { key: 'FSF-R30', title: 'A passenger boards with a reference' },
  { key: 'FSF-R31', title: 'A reference boards once' },
]
function open(keys: string[], list = LIST) {
  answerWith({ 'GET /api/requirements/titles': list })
  const onCommit = jest.fn()
  render(
    <Around>
      <Requirements keys={keys} onCommit={onCommit} />
    </Around>,
  )
  return { onCommit, person: userEvent.setup() }
}

test('each says what it asks and leads there; one that is not in the list says so', async () => {
  open(['FSF-R30', 'FSF-R99'])
  const asked = within(await screen.findByRole('list', { name: 'What these ask' }))
  expect(
    asked.getByRole('link', { name: 'FSF-R30 A passenger boards with a reference' }).getAttribute('href'),
  ).toBe('/release#requirement-FSF-R30')
  expect(asked.getByText('FSF-R99 is none of the list')).toBeTruthy()
})

test('one is chosen from those of the list that it does not have', async () => {
  const { onCommit, person } = open(['FSF-R30'])
  const add = await screen.findByRole('combobox', { name: 'Add a requirement' })
  expect(
    within(add)
      .getAllByRole('option')
      .map(({ textContent }) => textContent),
  ).toEqual(['add one…', 'FSF-R31 A reference boards once'])
  await person.selectOptions(add, 'FSF-R31')
  expect(onCommit).toHaveBeenCalledWith(['FSF-R30', 'FSF-R31'])
})

test('without a list they are written, and none is none', async () => {
  const { onCommit, person } = open(['FSF-R30'], [])
  const field = screen.getByRole('textbox', { name: 'Requirements' })
  await person.clear(field)
  await person.type(field, '{Enter}')
  expect(onCommit).toHaveBeenLastCalledWith(undefined)
  expect(screen.queryByRole('combobox')).toBeNull()
})
