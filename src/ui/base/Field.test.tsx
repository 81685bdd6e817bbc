/** @jest-environment ./jest/page.cjs */
import { render, screen } from '@testing-library/react'
import { Field } from './Field'
import { Select, TextArea, TextField } from './fields'

const described = (name: string) => {
  const ids = screen.getByLabelText(name).getAttribute('aria-describedby')?.split(' ') ?? []
  return ids.map((id) => document.getElementById(id)?.textContent)
}

test('a control is called by its label alone, and described by its hint', () => {
  render(
    <Field label="Password" hint="At least 12 characters.">
      <TextField type="password" />
    </Field>,
  )
  expect(screen.getByLabelText('Password').tagName).toBe('INPUT')
  expect(described('Password')).toEqual(['At least 12 characters.'])
  expect(screen.getByLabelText('Password').getAttribute('aria-invalid')).toBeNull()
})

test('an error is said when it comes, marks the control, and stands beside the hint', () => {
  const form = (error?: string) => (
    <Field label="Key" hint="History goes by it." error={error}>
      <TextField />
    </Field>
  )
  const { rerender } = render(form())
  expect(screen.queryByRole('alert')).toBeNull()
  rerender(form('There is a case with this key.'))
  expect(screen.getByRole('alert').textContent).toBe('There is a case with this key.')
  expect(described('Key')).toEqual(['History goes by it.', 'There is a case with this key.'])
  expect(screen.getByLabelText('Key').getAttribute('aria-invalid')).toBe('true')
  rerender(form())
  expect(screen.getByLabelText('Key').getAttribute('aria-invalid')).toBeNull()
})

test.each([
  ['a long text', <TextArea key="area" />],
  ['a choice', <Select key="select" value="" onChoose={() => {}} choices={[{ value: 'fog' }]} />],
])('%s is described too', (_, control) => {
  render(
    <Field label="Why" hint="In a word.">
      {control}
    </Field>,
  )
  expect(described('Why')).toEqual(['In a word.'])
})

test('two fields do not describe each other', () => {
  render(
    <>
      <Field label="Expected" hint="As the timetable says.">
        <TextArea />
      </Field>
      <Field label="Actual">
        <TextArea />
      </Field>
    </>,
  )
  expect(described('Actual')).toEqual([])
})
