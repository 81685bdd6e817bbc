/** @jest-environment jsdom */
import { render, screen } from '@testing-library/react'
import '../testing/browser'
import { ReportDialog } from './ReportDialog'

test('a run is taken as each kind of file; one that goes on says so', () => {
  render(<ReportDialog run={{ id: 7, title: 'Night Full', state: 'running' }} open onClose={() => {}} />)
  expect(screen.getAllByRole('link').map((link) => [link.textContent, link.getAttribute('href')])).toEqual([
    ['HTML', '/api/runs/7/report?as=html'],
    ['CSV', '/api/runs/7/report?as=csv'],
    ['JUnit XML', '/api/runs/7/report?as=xml'],
    ['JSON', '/api/runs/7/report?as=json'],
  ])
  expect(screen.getByText('It goes on: the report says how far it is.')).not.toBeNull()
})
