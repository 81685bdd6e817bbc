/** @jest-environment ./jest/page.cjs */
import { fireEvent, render, screen } from '@testing-library/react'
import { answerWith, refusal } from '../testing/around'
import { EvidenceImage } from './EvidenceImage'

const AWAY = 'The evidence store does not answer as it should (TimeoutError).'

test('where a picture cannot be read, its place says why', async () => {
  answerWith({ 'GET /api/evidence/aa': refusal(502, 'STORE_AWAY', AWAY) })
  render(<EvidenceImage hash="aa" alt="The screen at this step" className="size-full" />)
  const image = screen.getByRole<HTMLImageElement>('img', { name: 'The screen at this step' })
  expect(image.getAttribute('src')).toBe('/api/evidence/aa')
  fireEvent.error(image)
  const place = await screen.findByText(AWAY)
  expect(place.className).toContain('size-full')
  expect(screen.getByRole('img').getAttribute('aria-label')).toBe(`The screen at this step: ${AWAY}`)
})

test('what is there and no picture is said to be none', async () => {
  answerWith({ 'GET /api/evidence/aa': 'bytes' })
  render(<EvidenceImage hash="aa" alt="The screen" />)
  fireEvent.error(screen.getByRole('img'))
  expect(await screen.findByText('This is no picture that can be shown.')).toBeTruthy()
})

test('a small one leaves its place empty; another picture is tried anew', () => {
  answerWith({ 'GET /api/evidence/aa': refusal(404, 'NOT_FOUND', 'It is not in the store.') })
  const { container, rerender } = render(<EvidenceImage hash="aa" alt="" />)
  fireEvent.error(container.querySelector('img')!)
  expect(container.querySelector('[data-unreadable]')!.textContent).toBe('')
  rerender(<EvidenceImage hash="bb" alt="" />)
  expect(container.querySelector('img')!.getAttribute('src')).toBe('/api/evidence/bb')
})
