/** @jest-environment ./jest/page.cjs */
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { renderToString } from 'react-dom/server.node'
import { NOTES_TYPING } from '../frame/TypingNotes'
import { TextArea, TextField } from './fields'

function Calendar() {
  const [title, setTitle] = useState('')
  const [notes, setNotes] = useState('One\nTwo')
  return (
    <form>
      <TextField aria-label="Title" value={title} onChange={({ target }) => setTitle(target.value)} />
      <TextField aria-label="Notes" value={notes} onChange={({ target }) => setNotes(target.value)} />
      <button disabled={title === ''}>Add</button>
      <output>{JSON.stringify([title, notes])}</output>
    </form>
  )
}
const known = () => JSON.parse(screen.getByRole('status').textContent) as string[]

/** The page as it came from the server, before its scripts. */
function servedPage(): HTMLElement {
  const container = document.body.appendChild(document.createElement('div'))
  container.innerHTML = renderToString(<Calendar />)
  return container
}

test('what was typed before the scripts came is known when they have', async () => {
  const container = servedPage()
  const title = screen.getByLabelText<HTMLInputElement>('Title')
  title.value = 'Spring tides'
  render(<Calendar />, { container, hydrate: true })
  expect(known()).toEqual(['Spring tides', 'One\nTwo'])
  expect(title.value).toBe('Spring tides')
  expect(screen.getByRole<HTMLButtonElement>('button').disabled).toBe(false)
  await userEvent.type(title, '!')
  expect(known()[0]).toBe('Spring tides!')
})

test('where nothing was typed nothing is told', () => {
  render(<Calendar />, { container: servedPage(), hydrate: true })
  expect(known()).toEqual(['', 'One\nTwo'])
})

function Message() {
  const [text, setText] = useState('Tides')
  return (
    <form>
      <TextArea aria-label="Message" value={text} onChange={({ target }) => setText(target.value)} />
      <output>{text}</output>
    </form>
  )
}

test('what was typed into a text area before the scripts came is known, too', async () => {
  // jsdom runs no scripts that stand in a page
  new Function(NOTES_TYPING).call(window)
  const container = document.body.appendChild(document.createElement('div'))
  container.innerHTML = renderToString(<Message />)
  const area = screen.getByLabelText<HTMLTextAreaElement>('Message')
  area.value = 'Spring\ntides'
  area.dispatchEvent(new Event('input', { bubbles: true }))
  render(<Message />, { container, hydrate: true })
  expect(screen.getByRole('status').textContent).toBe('Spring\ntides')
  expect(area.value).toBe('Spring\ntides')
  await userEvent.type(area, '!')
  expect(screen.getByRole('status').textContent).toBe('Spring\ntides!')
})
