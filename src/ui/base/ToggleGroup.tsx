'use client'
import { RadioGroup, ToggleGroup } from 'radix-ui'

export type Words<T extends string> = readonly (readonly [value: T, words: React.ReactNode])[]

const BOX =
  'cursor-pointer rounded-oak border border-line bg-raised px-2.5 py-[3px] text-sm ' +
  'hover:border-faint data-[state=checked]:border-act data-[state=checked]:bg-act ' +
  'data-[state=checked]:text-act-ink data-disabled:pointer-events-none data-disabled:opacity-60'
const PILL =
  'rounded-full border border-line bg-surface px-2.5 py-[2px] text-xs text-soft hover:border-faint ' +
  'aria-pressed:border-act aria-pressed:bg-act-wash aria-pressed:font-semibold ' +
  'aria-pressed:text-ink'

/** One of few, side by side. It is one stop of the tab key; arrow keys choose the next.
 * @param label what is chosen
 * @param choices value and words of each */
export function OneOf<T extends string>({
  label,
  value,
  choices,
  onChoose,
  disabled = false,
}: {
  label: string
  value: T
  choices: Words<T>
  onChoose(value: NoInfer<T>): void
  disabled?: boolean | undefined
}) {
  return (
    <RadioGroup.Root
      aria-label={label}
      value={value}
      disabled={disabled}
      onValueChange={(next) => onChoose(next as T)}
      className="inline-flex flex-wrap gap-1"
    >
      {choices.map(([one, words]) => (
        <RadioGroup.Item key={one} value={one} className={BOX}>
          {words}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  )
}

/** Any of several, side by side. It is one stop of the tab key; arrow keys go along, the space bar turns on
 * and off.
 * @param label what is chosen
 * @param chosen those that are on
 * @param onChange is given those that are on now, in the order of `choices`, and which one was changed */
export function AnyOf<T extends string>({
  label,
  chosen,
  choices,
  onChange,
  disabled = false,
}: {
  label: string
  chosen: readonly T[]
  choices: Words<T>
  onChange(chosen: NoInfer<T>[], changed: NoInfer<T>): void
  disabled?: boolean | undefined
}) {
  const change = (next: string[]) => {
    const all = choices.map(([one]) => one)
    const changed = all.find((one) => next.includes(one) !== chosen.includes(one))
    if (changed !== undefined)
      onChange(
        all.filter((one) => next.includes(one)),
        changed,
      )
  }
  return (
    <ToggleGroup.Root
      type="multiple"
      role="group"
      aria-label={label}
      value={[...chosen]}
      disabled={disabled}
      onValueChange={change}
      className="inline-flex flex-wrap gap-1"
    >
      {choices.map(([one, words]) => (
        <ToggleGroup.Item key={one} value={one} className={PILL}>
          {words}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  )
}
