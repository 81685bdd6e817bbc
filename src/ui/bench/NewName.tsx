import { Committed } from './Committed'

/** A field that makes something new by writing what it is called.
 * @param label what it is a part of
 * @param taken names that are there already: nothing happens with one of them */
export function NewName({
  label,
  hint,
  taken,
  onAdd,
}: {
  label: string
  hint?: string | undefined
  taken: readonly string[]
  onAdd(name: string): void
}) {
  return (
    <Committed
      label={`${label}: new name`}
      value=""
      hint={hint ?? 'new name'}
      narrow
      onCommit={(name) => name.trim() !== '' && !taken.includes(name.trim()) && onAdd(name.trim())}
    />
  )
}
