/** @jest-environment ./jest/page.cjs */
import { render, screen } from '@testing-library/react'
import { Around, answerWith } from '../testing/around'
import { ReportDialog } from './ReportDialog'

test('a run is taken as each kind of file; one that goes on says so', () => {
  answerWith({ 'GET /api/runs/7/shared': [] })
  render(<ReportDialog run={{ id: 7, title: 'Night Full', state: 'running' }} open onClose={() => {}} />, {
    wrapper: Around,
  })
  expect(screen.getAllByRole('link').map((link) => [link.textContent, link.getAttribute('href')])).toEqual([
    ['HTML', '/api/runs/7/report?as=html'],
    ['PDF', '/api/runs/7/report?as=pdf'],
    ['XLSX', '/api/runs/7/report?as=xlsx'],
    ['CSV', '/api/runs/7/report?as=csv'],
    ['JUnit XML', '/api/runs/7/report?as=xml'],
    ['JSON', '/api/runs/7/report?as=json'],
  ])
  expect(screen.getByText('It goes on: the report says how far it is.')).not.toBeNull()
})
