'use client'
import { TextField } from '../base/fields'
import { Field } from '../base/Field'

/** @param kind what a browser's own keeper of passwords is to offer */
export function PasswordField({
  label,
  kind = 'current-password',
  value,
  onChange,
}: {
  label: string
  kind?: 'current-password' | 'new-password'
  value: string
  onChange(value: string): void
}) {
  return (
    <Field label={label}>
      <TextField
        type="password"
        autoComplete={kind}
        value={value}
        onChange={({ target }) => onChange(target.value)}
      />
    </Field>
  )
}
