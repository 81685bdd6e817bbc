/** @jest-environment ./jest/page.cjs */
import { fireEvent, render, screen, waitFor } from '@testing-library/react'
import type { AdoptionViewModel } from '@/core/view-models'
import { Around, answerWith, refusal } from '../testing/around'
import { AdoptDialog } from './AdoptDialog'

const place = { attemptId: 'a1', path: 'main.0', title: 'Fares', environment: 'wide' }
const FARES: AdoptionViewModel['files'][number] = {
  kind: 'case',
  key: 'fares',
  version: 3,
  before: 'case: fares\ntitle: Fares\n# one\n# two\n# three\n- check: 86.40\n',
  after: 'case: fares\ntitle: Fares\n# one\n# two\n# three\n- check: 90.00\n',
  changes: [{ ...place, where: 'the check of total in the case fares', was: '86.40', becomes: '90.00' }],
}
const URL = '/api/attempts/a1/adoption'

const show = (closed: () => void = () => {}) =>
  render(
    <Around>
      <AdoptDialog attemptId="a1" path="main.0" onClose={closed} />
    </Around>,
  )

test('what would change is shown first, and saved as it was shown', async () => {
  let closed = 0
  const asked = answerWith({
    [`POST ${URL}`]: { files: [FARES], refused: [] } satisfies AdoptionViewModel,
    [`PUT ${URL}`]: [{ kind: 'case', key: 'fares', version: 4, before: 3 }],
  })
  show(() => closed++)
  const change = await screen.findByRole('region', { name: 'case fares' })
  expect(change.textContent).toContain('86.40 becomes 90.00')
  expect(change.textContent).toContain('− - check: 86.40+ - check: 90.00')
  // what is far from the change is left out
  expect(change.textContent).not.toContain('title: Fares')
  fireEvent.click(screen.getByRole('button', { name: 'Save as the next version' }))
  await waitFor(() => expect(closed).toBe(1))
  expect(asked.at(-1)).toEqual({
    method: 'PUT',
    path: URL,
    body: { path: 'main.0', which: 'one', files: [{ kind: 'case', key: 'fares', version: 3 }] },
  })
})

test('all of a run: files are counted, what cannot be adopted is listed with its reason', async () => {
  const answer = ({ which }: { which: string }): AdoptionViewModel =>
    which === 'one'
      ? { files: [], refused: [{ ...place, why: 'a pattern stands for many texts' }] }
      : { files: [FARES, { ...FARES, key: 'ports' }], refused: [] }
  answerWith({ [`POST ${URL}`]: answer })
  show()
  expect((await screen.findByRole('region', { name: 'Not adopted' })).textContent).toContain(
    'Fares, wide: a pattern stands for many texts.',
  )
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Save as the next version' }).disabled).toBe(
    true,
  )
  fireEvent.click(screen.getByRole('radio', { name: 'All failed checks of the run' }))
  expect(await screen.findByRole('button', { name: 'Save 2 files' })).not.toBeNull()
})

test('what was changed meanwhile is said, and nothing is lost', async () => {
  let closed = 0
  answerWith({
    [`POST ${URL}`]: { files: [FARES], refused: [] },
    [`PUT ${URL}`]: refusal(409, 'CHANGED_MEANWHILE', 'What would change is not what you saw any more.'),
  })
  show(() => closed++)
  await screen.findByRole('region', { name: 'case fares' })
  fireEvent.click(screen.getByRole('button', { name: 'Save as the next version' }))
  expect(await screen.findByText(/not what you saw any more/)).not.toBeNull()
  expect(closed).toBe(0)
})
