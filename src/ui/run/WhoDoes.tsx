'use client'
import { Field } from '../base/Field'
import { Select, titled } from '../base/fields'

/** People that take part in a guided run, and what each takes: empty is every environment of the run. */
export type Doers = Readonly<Record<string, string>>

type Props = {
  people: readonly string[]
  environments: readonly { key: string; title: string }[]
  doers: Doers
  onChange(doers: Doers): void
}

/** Who does the cases of a guided run. The plan spreads them: each gets as much as they have time for. */
export function WhoDoes({ people, environments, doers, onChange }: Props) {
  const toggle = (person: string) => {
    const { [person]: known, ...others } = doers
    onChange(known === undefined ? { ...doers, [person]: '' } : others)
  }
  return (
    <fieldset>
      <legend className="label mb-1">People</legend>
      <div className="grid grid-cols-2 gap-x-4 gap-y-1.5">
        {people.map((person) => {
          const on = doers[person]
          return (
            <div key={person} className="flex items-end gap-2">
              <label className="flex h-[30px] min-w-0 flex-1 cursor-pointer items-center gap-2 text-sm">
                <input
                  type="checkbox"
                  className="accent-[var(--act)]"
                  checked={on !== undefined}
                  onChange={() => toggle(person)}
                />
                <span className="truncate">{person}</span>
              </label>
              {on !== undefined && environments.length > 1 && (
                <Field label={<span className="sr-only">What {person} takes</span>} className="w-44">
                  <Select
                    value={on}
                    onChoose={(environment) => onChange({ ...doers, [person]: environment })}
                    choices={titled(environments)}
                  >
                    <option value="">all of these</option>
                  </Select>
                </Field>
              )}
            </div>
          )
        })}
      </div>
    </fieldset>
  )
}

/** As a start is asked for it. */
export const guidedBy = (doers: Doers): { person: string; environments?: string[] }[] =>
  Object.entries(doers).map(([person, on]) => ({ person, ...(on !== '' && { environments: [on] }) }))
