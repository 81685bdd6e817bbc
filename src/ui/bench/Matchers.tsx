'use client'
import { X } from 'lucide-react'
import { Button } from '../base/Button'
import { Matching } from './CheckFields'
import { NewName } from './NewName'

/** A matcher in file form: `{ equals: 3 }`. */
export type Matcher = Record<string, unknown>

/** What a value is compared with; nothing until it is asked for. */
export function OneMatcher({
  label,
  value,
  onSet,
}: {
  label: string
  value: Matcher | undefined
  onSet(value: Matcher | undefined): void
}) {
  if (value === undefined)
    return (
      <Button look="quiet" type="button" onClick={() => onSet({ equals: '' })}>
        Compare it
      </Button>
    )
  return (
    <div role="group" aria-label={label} className="flex flex-wrap items-center gap-1.5">
      <Matching value={value} onSet={onSet} />
      <TakeOut what={label} onClick={() => onSet(undefined)} />
    </div>
  )
}

/** Matchers by what they compare: a path, or a column. */
export function Matchers({
  label,
  hint,
  value = {},
  onSet,
}: {
  label: string
  hint: string | undefined
  value: Record<string, Matcher> | undefined
  onSet(value: Record<string, Matcher> | undefined): void
}) {
  const put = (name: string, matcher: Matcher | undefined) => {
    const next = Object.fromEntries(
      Object.entries({ ...value, [name]: matcher }).flatMap(([key, one]) => (one ? [[key, one]] : [])),
    )
    onSet(Object.keys(next).length > 0 ? next : undefined)
  }
  return (
    <div role="group" aria-label={label} className="flex flex-col gap-1">
      {Object.entries(value).map(([name, matcher]) => (
        <div key={name} className="flex flex-wrap items-center gap-1.5">
          <code className="w-[120px] truncate font-mono text-xs text-soft">{name}</code>
          <Matching value={matcher} onSet={(next) => put(name, next)} />
          <TakeOut what={name} onClick={() => put(name, undefined)} />
        </div>
      ))}
      <NewName
        label={label}
        hint={hint}
        taken={Object.keys(value)}
        onAdd={(name) => put(name, { equals: '' })}
      />
    </div>
  )
}

const TakeOut = ({ what, onClick }: { what: string; onClick(): void }) => (
  <button
    type="button"
    aria-label={`Take ${what} out`}
    className="p-1 text-soft hover:text-ink"
    onClick={onClick}
  >
    <X size={13} aria-hidden />
  </button>
)
