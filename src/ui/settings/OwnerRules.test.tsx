/** @jest-environment ./jest/page.cjs */
import { render, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { answerWith, Around } from '../testing/around'
import { OwnerRules } from './OwnerRules'

const rule = (name: string, tag: string) => ({ application: '', tag, folder: '', name, mail: '' })
function open(role: 'admin' | 'viewer' = 'admin') {
  const asked = answerWith({ 'PUT /api/owners': {} })
  render(
    <Around role={role}>
      <OwnerRules ownerRules={[rule('Sea crew', 'sea'), rule('Money crew', 'money')]} applications={[]} />
    </Around>,
  )
  return { asked, person: userEvent.setup() }
}
const inRule = (at: number) => within(screen.getByRole('listitem', { name: `Rule ${at}` }))

test('rules change places, go, come, and are kept all at once', async () => {
  const { asked, person } = open()
  await person.click(inRule(2).getByRole('button', { name: 'Ask rule 2 before the one above' }))
  await person.click(inRule(2).getByRole('button', { name: 'Remove rule 2' }))
  await person.click(screen.getByRole('button', { name: 'Add a rule' }))
  await person.click(screen.getByRole('button', { name: 'Keep so' }))
  expect(screen.getByRole('alert').textContent).toBe('Rule 2 names nobody: a name or an address.')
  expect(asked).toEqual([])
  await person.type(inRule(2).getByLabelText('Who'), 'Everybody')
  await person.click(screen.getByRole('button', { name: 'Keep so' }))
  await waitFor(() =>
    expect(asked.map(({ body }) => body)).toEqual([
      { rules: [rule('Money crew', 'money'), rule('Everybody', '')] },
    ]),
  )
})

test('who is no administrator reads them', () => {
  open('viewer')
  expect(inRule(1).getByLabelText<HTMLInputElement>('Tag').disabled).toBe(true)
  expect(screen.queryByRole('button', { name: 'Keep so' })).toBeNull()
})
