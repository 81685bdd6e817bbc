/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import fc from 'fast-check'
import '../testing/browser'
import { Table, type Column } from './Table'

type Sailing = { id: number; ship: string; cars: number | null }
const SAILINGS: Sailing[] = [
  { id: 1, ship: 'Ternholm', cars: 48 },
  { id: 2, ship: 'Little Auk 10', cars: null },
  { id: 3, ship: 'Little Auk 9', cars: 120 },
]
const COLUMNS: Column<Sailing>[] = [
  { head: 'Ship', as: 'name', by: ({ ship }) => ship, cell: ({ ship }) => ship },
  { head: 'Cars', by: ({ cars }) => cars, cell: ({ cars }) => cars ?? 'none' },
  { head: 'Do', as: 'do', cell: ({ ship }) => <button type="button">Cancel {ship}</button> },
]
const list = (rows: Sailing[] = SAILINGS, more = {}) => (
  <Table label="Sailings" rows={rows} columns={COLUMNS} keyOf={({ id }) => id} {...more} />
)
const ships = () => screen.getAllByRole('rowheader').map(({ textContent }) => textContent)
const headOf = (name: string) => screen.getByRole('columnheader', { name: new RegExp(`^${name}`) })
const sortBy = (name: string) => userEvent.click(within(headOf(name)).getByRole('button'))

test('rows come in the order they were given, each called by its name', () => {
  render(list())
  expect(ships()).toEqual(['Ternholm', 'Little Auk 10', 'Little Auk 9'])
  expect(screen.getByRole('table', { name: 'Sailings' })).toBeTruthy()
  expect(headOf('Ship').getAttribute('aria-sort')).toBeNull()
})

test('a head sorts, turns round, and gives back the first order; numbers in names count as numbers', async () => {
  render(list())
  await sortBy('Ship')
  expect(ships()).toEqual(['Little Auk 9', 'Little Auk 10', 'Ternholm'])
  expect(headOf('Ship').getAttribute('aria-sort')).toBe('ascending')
  await sortBy('Ship')
  expect(ships()).toEqual(['Ternholm', 'Little Auk 10', 'Little Auk 9'])
  expect(headOf('Ship').getAttribute('aria-sort')).toBe('descending')
  await sortBy('Ship')
  expect(ships()).toEqual(['Ternholm', 'Little Auk 10', 'Little Auk 9'])
  expect(headOf('Ship').getAttribute('aria-sort')).toBeNull()
})

test('what is not there comes last, whichever way', async () => {
  render(list())
  await sortBy('Cars')
  expect(ships()).toEqual(['Ternholm', 'Little Auk 9', 'Little Auk 10'])
  await sortBy('Cars')
  expect(ships()).toEqual(['Little Auk 9', 'Ternholm', 'Little Auk 10'])
})

test('a column of buttons cannot be sorted by, and only screen readers are told its head', () => {
  render(list())
  expect(within(headOf('Do')).queryByRole('button')).toBeNull()
  expect(within(headOf('Do')).getByText('Do').className).toBe('sr-only')
})

test('the order that was chosen stays when the rows change', async () => {
  const { rerender } = render(list())
  await sortBy('Cars')
  rerender(list([...SAILINGS, { id: 4, ship: 'Skerry', cars: 60 }]))
  expect(ships()).toEqual(['Ternholm', 'Skerry', 'Little Auk 9', 'Little Auk 10'])
})

test('a row is chosen by a click anywhere in it, and says that it is', async () => {
  const onChoose = jest.fn()
  render(list(SAILINGS, { onChoose, isChosen: ({ id }: Sailing) => id === 3 }))
  await userEvent.click(screen.getByText('48'))
  expect(onChoose).toHaveBeenCalledWith(SAILINGS[0])
  const selected = screen.getAllByRole('row', { selected: true })
  expect(selected.map((row) => within(row).getByRole('rowheader').textContent)).toEqual(['Little Auk 9'])
})

test('sorted, all rows are still there, in order, and equal ones as they came', async () => {
  const rows = fc.array(fc.record({ cars: fc.option(fc.integer({ min: 0, max: 4 })) }), { maxLength: 8 })
  await fc.assert(
    fc.asyncProperty(rows, async (given) => {
      const sailings = given.map(({ cars }, id) => ({ id, ship: `ship ${id}`, cars }))
      const { unmount } = render(list(sailings))
      await sortBy('Cars')
      const rank = ({ cars }: Sailing) => cars ?? Infinity
      const expected = sailings.toSorted((a, b) => (rank(a) === rank(b) ? a.id - b.id : rank(a) - rank(b)))
      const seen = sailings.length > 0 ? ships() : []
      unmount()
      expect(seen).toEqual(expected.map(({ ship }) => ship))
    }),
    { numRuns: 12 },
  )
})
