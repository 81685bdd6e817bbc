/** @jest-environment ./jest/page.cjs */
import '../testing/browser'
import { jest } from '@jest/globals'
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import type { Edit, RecoveryPolicy } from '@/core/model'
import { parseDefinition } from '@/core/model/files'
import { Around } from '../testing/around'
import { RuleList } from './RuleList'

const { definition } = parseDefinition(
  'x.policy.yaml',
  `policy: calm
title: Calm
rules:
  - rule: first-wait
    when: { kinds: [time-limit] }
    wait: 1s
  - rule: sign-in-again
    when: { kinds: [dialog], message: signed out }
    do:
      - click: { on: { role: button, name: Sign in } }
    resume: case
  - rule: last-word
    when: { kinds: [check] }
    wait: 2s
    off: true
`,
)

function open(editable = true) {
  const [edit, onChoose] = [jest.fn<(...edits: Edit[]) => boolean>(() => true), jest.fn()]
  render(
    <Around>
      <RuleList
        policy={definition as RecoveryPolicy}
        history={undefined}
        chosen="sign-in-again"
        onChoose={onChoose}
        open={undefined}
        onOpen={() => {}}
        editable={editable}
        edit={edit}
        routines={[]}
      />
    </Around>,
  )
  return { edit, onChoose, user: userEvent.setup() }
}
const handle = (n: number) => screen.getByRole('button', { name: new RegExp(`^${n}: move`) })

test('rules stand in the order they are tried, the chosen one says so, and one that is off as well', async () => {
  const { onChoose, user } = open()
  expect(screen.getAllByRole('heading', { level: 2 }).map(({ textContent }) => textContent)).toEqual([
    'First wait',
    'Sign in again',
    'Last wordoff',
  ])
  expect(screen.getByRole('button', { pressed: true }).textContent).toBe('Sign in again')
  await user.click(screen.getByRole('button', { name: 'First wait' }))
  expect(onChoose).toHaveBeenCalledWith('first-wait')
})

test.each([
  [1, '{ArrowDown}', [['rules', 0]], 2],
  [2, '{ArrowUp}', [['rules', 1]], 0],
  [2, '{ArrowDown}', [['rules', 1]], 3],
])('rule %i is moved by Alt and %s', async (n, key, paths, at) => {
  const { edit, user } = open()
  handle(n).focus()
  await user.keyboard(`{Alt>}${key}{/Alt}`)
  expect(edit.mock.calls).toEqual([[{ do: 'move', paths, list: ['rules'], at }]])
})

test('the first goes no higher, the last no lower, and without Alt nothing moves', async () => {
  const { edit, user } = open()
  handle(1).focus()
  await user.keyboard('{Alt>}{ArrowUp}{/Alt}{ArrowDown}')
  handle(3).focus()
  await user.keyboard('{Alt>}{ArrowDown}{/Alt}')
  expect(edit).not.toHaveBeenCalled()
})

test('who may only read cannot move a rule', () => {
  open(false)
  expect(handle(1).hasAttribute('disabled')).toBe(true)
})

test('a click that leaves the name of a rule counts, and the rule stays open under its new name', async () => {
  function Bench() {
    const [policy, setPolicy] = useState(definition as RecoveryPolicy)
    const [open, setOpen] = useState<string | undefined>('first-wait')
    const rename = (edit: Edit) => {
      const { path, value } = edit as unknown as { path: [string, number, string]; value: string }
      setPolicy({
        ...policy,
        rules: policy.rules.map((rule, i) => (i === path[1] ? { ...rule, id: value } : rule)),
      })
      return true
    }
    return (
      <RuleList
        policy={policy}
        history={undefined}
        chosen={open}
        onChoose={() => {}}
        open={open}
        onOpen={setOpen}
        editable
        edit={(edit) => edit !== undefined && rename(edit)}
        routines={[]}
      />
    )
  }
  render(
    <Around>
      <Bench />
    </Around>,
  )
  const user = userEvent.setup()
  const name = await screen.findByLabelText('Name of the rule')
  await user.clear(name)
  await user.type(name, 'wait-a-little')
  const next = screen.getByLabelText('Expression in the message')
  await user.click(next)
  expect(screen.getByLabelText<HTMLInputElement>('Name of the rule').value).toBe('wait-a-little')
  expect(document.activeElement).toBe(next)
})
