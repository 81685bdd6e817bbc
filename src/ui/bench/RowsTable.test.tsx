/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { fireEvent, render, screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { parseDataSet } from '@/core/model/editing'
import '../testing/browser'
import { RowsTable } from './RowsTable'

const SOURCE = 'from,to\nSkerry,Ternholm\nTernholm,Skerry\n'

function Fares({
  editable = true,
  onChange = () => {},
}: {
  editable?: boolean
  onChange?(source: string): void
}) {
  const [source, setSource] = useState(SOURCE)
  const take = (next: string) => {
    setSource(next)
    onChange(next)
  }
  const { definition } = parseDataSet('fares.csv', source)
  return <RowsTable table={definition!} editable={editable} onChange={take} missing={[]} />
}
const cell = (label: string) => screen.getByLabelText<HTMLInputElement>(label)
const newest = (onChange: jest.Mock<(source: string) => void>) => onChange.mock.calls.at(-1)?.[0]
const open = () => {
  const onChange = jest.fn<(source: string) => void>()
  render(<Fares onChange={onChange} />)
  return { onChange, user: userEvent.setup() }
}

test('a cell is written when it is left or with Enter, and not while one types', async () => {
  const { onChange, user } = open()
  await user.clear(cell('to, row 1'))
  await user.type(cell('to, row 1'), 'Rock, old')
  expect(onChange).not.toHaveBeenCalled()
  await user.keyboard('{Enter}')
  expect(newest(onChange)).toBe('from,to\nSkerry,"Rock, old"\nTernholm,Skerry\n')
  await user.tab()
  expect(onChange).toHaveBeenCalledTimes(1)
})

test('rows and columns come and go', async () => {
  const { onChange, user } = open()
  await user.click(screen.getByRole('button', { name: 'Row' }))
  expect(newest(onChange)).toBe('from,to\nSkerry,Ternholm\nTernholm,Skerry\n,\n')
  await user.type(screen.getByLabelText('New column'), 'fare{Enter}')
  expect(newest(onChange)).toMatch(/^from,to,fare\nSkerry,Ternholm,\n/)
  await user.click(screen.getByRole('button', { name: 'Take the column from out' }))
  await user.click(screen.getByRole('button', { name: 'Take row 1 out' }))
  expect(newest(onChange)).toBe('to,fare\nSkerry,\n,\n')
})

test('a column of a name that is there already is refused, and what was written stays', async () => {
  const { onChange, user } = open()
  await user.type(screen.getByLabelText('New column'), 'from{Enter}')
  expect(onChange).not.toHaveBeenCalled()
  expect(cell('New column').value).toBe('from')
})

test('cells of a spreadsheet go in where they are pasted; a single value is the field’s', async () => {
  const { onChange, user } = open()
  await user.click(cell('from, row 2'))
  await user.paste('Auk\tRock\nRock\t"two\nlines"')
  expect(newest(onChange)).toBe('from,to\nSkerry,Ternholm\nAuk,Rock\nRock,"two\nlines"\n')
  onChange.mockClear()
  await user.click(cell('from, row 1'))
  await user.paste('!')
  expect([cell('from, row 1').value, onChange.mock.calls.length]).toEqual(['Skerry!', 0])
})

test('a file replaces the rows; one that cannot be read changes nothing', async () => {
  const { onChange, user } = open()
  const file = (name: string, text: string) => {
    const made = new File([text], name)
    Object.defineProperty(made, 'text', { value: async () => text }) // jsdom has no text()
    return made
  }
  const field = screen.getByLabelText<HTMLInputElement>('CSV or XLSX file')
  await user.upload(field, file('broken.csv', 'a,b\n1\n'))
  expect(onChange).not.toHaveBeenCalled()
  await user.upload(field, file('new.csv', 'from,class\nAuk,second\n'))
  expect(newest(onChange)).toBe('from,class\nAuk,second\n')
})

test('who may not edit reads, and has no buttons', () => {
  render(<Fares editable={false} />)
  expect(screen.queryAllByRole('button')).toEqual([])
  expect(cell('to, row 2').readOnly).toBe(true)
})

test('of many rows a window is drawn, with the number of each', () => {
  const rows = Array.from({ length: 3000 }, (_, i) => ({ from: `pier ${i}` }))
  render(
    <RowsTable table={{ key: 'piers.csv', columns: ['from'], rows }} editable={false} onChange={() => {}} />,
  )
  const table = screen.getByRole('table')
  expect(table.getAttribute('aria-rowcount')).toBe('3001')
  expect(within(table).getAllByRole('row').length).toBeLessThan(100)
  expect(cell('from, row 1').value).toBe('pier 0')
})

test('columns the steps use and the table does not have are named', () => {
  const table = { key: 'fares.csv', columns: ['from'], rows: [] }
  render(<RowsTable table={table} editable={false} onChange={() => {}} missing={['to', 'fare']} />)
  expect(screen.getByRole('alert').textContent).toContain('row.to, row.fare')
})

test('a value that comes from elsewhere replaces what stands in a cell', () => {
  const table = (to: string) => ({ key: 'fares.csv', columns: ['to'], rows: [{ to }] })
  const { rerender } = render(<RowsTable table={table('Auk')} editable onChange={() => {}} />)
  fireEvent.change(cell('to, row 1'), { target: { value: 'half written' } })
  rerender(<RowsTable table={table('Rock')} editable onChange={() => {}} />)
  expect(cell('to, row 1').value).toBe('Rock')
})
