/** @jest-environment ./jest/page.cjs */
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import type { Step } from '@/core/model'
import { editSource, readRotation, type Edit } from '@/core/model/editing'
import '../testing/browser'
import { OnceSteps } from './OnceSteps'

const OFFERS = {
  routines: [{ key: 'open-the-till', title: 'Open the till', parameters: ['desk'] }],
  tables: [],
  applications: ['gate'],
  databases: [],
  tags: [],
}
const FILE = 'rotation: night\ntitle: Night\nwhat: [{ suite: gate }]\nwhere: { environments: [wide] }\n'

/** What is done before all, over a file that it changes. */
function Before({ more = '' }: { more?: string }) {
  const [source, setSource] = useState(FILE + more)
  const rotation = readRotation(source) as { before: Step[] }
  const edit = (...edits: Edit[]) => {
    setSource(editSource(source, edits))
    return true
  }
  return (
    <>
      <OnceSteps
        label="Before all"
        field="before"
        steps={rotation.before}
        offers={OFFERS}
        words="once"
        editable
        edit={edit}
      />
      <output>{source.slice(FILE.length)}</output>
    </>
  )
}
const file = () => screen.getByRole('status').textContent
const add = () => screen.getByLabelText('Before all: add a step')

test('a routine and a single step are added, in order', async () => {
  render(<Before />)
  const user = userEvent.setup()
  await user.selectOptions(add(), 'Open the till')
  await user.selectOptions(add(), 'note')
  expect(file()).toMatch(/^before:\n\s+- use: open-the-till\n\s+- note: /)
})

test('a routine shows the values it is given; a step is its sentence, and each goes again', async () => {
  render(<Before more={'before:\n  - use: open-the-till\n    with: { desk: "4" }\n  - open: gate:/day\n'} />)
  const user = userEvent.setup()
  expect(screen.getByRole('button', { name: 'Open the till (desk 4)' })).toBeTruthy()
  await user.click(screen.getByRole('button', { name: 'Take away Open the till (desk 4)' }))
  expect(file()).toBe('before:\n  - open: gate:/day\n')
  await user.click(screen.getByRole('button', { name: /^Take away open/ }))
  expect(file()).toBe('')
})
