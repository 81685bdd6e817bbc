/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import '../testing/browser'
import { GiveFiles } from './GiveFiles'

const field = () => screen.getByLabelText('File to give')
async function give(...parts: (string | Uint8Array<ArrayBuffer>)[]) {
  const onGive = jest.fn()
  render(<GiveFiles several={false} onGive={onGive} />)
  await userEvent.upload(field(), new File(parts, 'list'))
  return onGive
}

test.each([
  ['a text as its text', ['Isla Strøm\n'], { text: 'Isla Strøm\n' }],
  ['an empty file', [''], { text: '' }],
  [
    'what is no text, written for a step',
    [new Uint8Array([0xff, 0xd8])],
    { text: '/9g=', encoding: 'base64' },
  ],
  ['a text with what no text has', ['a\0b'], { text: 'YQBi', encoding: 'base64' }],
])('gives %s', async (_, parts, given) => {
  const onGive = await give(...parts)
  await waitFor(() => expect(onGive).toHaveBeenCalledWith([{ name: 'list', ...given }]))
})

test.each([
  ['a text', 'x'.repeat(400_001), '400,000 characters'],
  ['a picture', new Uint8Array(300_001).fill(0xff), 'about 300 kB'],
])('%s that no step holds is refused', async (_, part, most) => {
  const onGive = await give(part)
  expect((await screen.findByRole('alert')).textContent).toContain(most)
  expect(onGive).not.toHaveBeenCalled()
})
