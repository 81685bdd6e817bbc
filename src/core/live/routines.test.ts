import type { Step } from '../model'
import { offeredRoutine, type KnownRoutine } from '.'

const type = (label: string, value: string): Step => ({ verb: 'type', in: { label }, value })
const click = (name: string): Step => ({ verb: 'click', on: { role: 'button', name } })
const open: Step = { verb: 'open', address: 'booking:/' }
const SIGN_IN: KnownRoutine = {
  key: 'sign-in',
  title: 'Sign in',
  parameters: ['who'],
  steps: [
    open,
    type('Name', '${who}'),
    { verb: 'check', of: { label: 'Name' }, subject: 'text', soft: false },
    type('Password', '${secret.DESK}'),
    click('Sign in'),
  ],
}
const OPENED: KnownRoutine = { key: 'opened', title: 'Opened', parameters: [], steps: [open, click('Go')] }
const DONE = [open, type('Name', 'wren'), type('Password', '${secret.PASSWORD}'), click('Sign in')]

test('what was done is what a routine does, with what was typed given to it', () =>
  expect(offeredRoutine([...DONE, click('Book')], [OPENED, SIGN_IN])).toEqual({
    key: 'sign-in',
    title: 'Sign in',
    count: 4,
    step: { verb: 'use', routine: 'sign-in', with: { who: 'wren' } },
  }))
test('targets are the same by any way in common', () => {
  const css: Step = { verb: 'click', on: { label: 'Sign in', css: '#go' } }
  expect(offeredRoutine([...DONE.slice(0, 3), css], [SIGN_IN])?.count).toBe(4)
  const other: Step = { verb: 'click', on: { css: '#other' } }
  expect(offeredRoutine([...DONE.slice(0, 3), other], [SIGN_IN])).toBeUndefined()
})
test.each<[string, Step[], KnownRoutine]>([
  ['not all of it was done yet', DONE.slice(0, 3), SIGN_IN],
  ['something else was done first', [click('News'), ...DONE], SIGN_IN],
  ['it was done otherwise', [open, click('Back')], OPENED],
  ['it is one step, like any', [open], { ...OPENED, steps: [open] }],
  ['it is empty', DONE, { ...OPENED, steps: [] }],
  ['it refers to what is none of its parameters', DONE, { ...SIGN_IN, parameters: [] }],
  [
    'one parameter would have two values',
    [type('From', 'a'), type('To', 'b')],
    {
      key: 'r',
      title: 'R',
      parameters: ['x'],
      steps: [type('From', '${x}'), type('To', '${x}')],
    },
  ],
])('none is offered where %s', (_, steps, routine) =>
  expect(offeredRoutine(steps, [routine])).toBeUndefined(),
)
test('of several the longest is offered, then the first by key', () => {
  const short = { ...SIGN_IN, key: 'a', steps: SIGN_IN.steps.slice(0, 4) }
  expect(offeredRoutine(DONE, [short, SIGN_IN])?.key).toBe('sign-in')
  expect(offeredRoutine(DONE, [{ ...SIGN_IN, key: 'z' }, SIGN_IN])?.key).toBe('sign-in')
})
