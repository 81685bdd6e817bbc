'use client'
import { Check } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { DEFECT_PLACES, type DefectFilter, type DefectViewModel } from '@/core/view-models'
import { buttonLook } from '../base/Button'
import { Select, TextField } from '../base/fields'
import { CHOSEN_COLUMNS, COLUMN_NAMES, type ChosenColumn } from './columns'

export const SEVERITIES = ['critical', 'high', 'normal', 'low'] as const
const choicesOf = (any: string, values: readonly string[]) => [
  { value: '', label: any },
  ...values.map((value) => ({ value, label: value })),
]

/** What the list shows; all of it stands in the address. */
export function DefectFilters({
  defects,
  filter,
  onChange,
}: {
  defects: readonly DefectViewModel[]
  filter: DefectFilter
  onChange(change: Partial<DefectFilter>): void
}) {
  const builds = [...new Set(defects.map(({ build }) => build))].toSorted().toReversed()
  const choices: [keyof DefectFilter, string, string, string, readonly string[]][] = [
    ['place', 'Where it stands', 'w-[116px]', 'any standing', DEFECT_PLACES],
    ['severity', 'Severity', 'w-[114px]', 'any severity', SEVERITIES],
    ['build', 'Build', 'w-[104px]', 'all builds', builds],
  ]
  return (
    <div role="search" aria-label="Defects" className="flex gap-2 border-b border-line px-[18px] py-2">
      <TextField
        size="small"
        placeholder="Words"
        aria-label="Words in it"
        value={filter.words}
        maxLength={200}
        onChange={({ target }) => onChange({ words: target.value })}
      />
      {choices.map(([name, label, width, any, values]) => (
        <Select
          key={name}
          size="small"
          width={`${width} shrink-0`}
          aria-label={label}
          value={filter[name]}
          choices={choicesOf(any, values)}
          onChange={({ target }) => onChange({ [name]: target.value })}
        />
      ))}
    </div>
  )
}

const FORMS = [
  ['csv', 'CSV'],
  ['xlsx', 'XLSX'],
  ['md', 'Markdown'],
] as const

/** The list as it is filtered, as a file. */
export function TakeAlong({ filter }: { filter: DefectFilter }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className={buttonLook()}>As a file</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 rounded-oak border border-line bg-raised p-1 text-sm shadow-xl"
        >
          {FORMS.map(([as, words]) => (
            <DropdownMenu.Item key={as} asChild>
              <a
                download
                href={`/api/defects/export?${new URLSearchParams({ as, ...filter })}`}
                className="block rounded px-3 py-1.5 outline-none data-highlighted:bg-act-wash"
              >
                {words}
              </a>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

/** Which columns the list has. */
export function ColumnChoice({
  chosen,
  onChange,
}: {
  chosen: readonly ChosenColumn[]
  onChange(chosen: ChosenColumn[]): void
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className={buttonLook()}>Columns</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 rounded-oak border border-line bg-raised p-1 text-sm shadow-xl"
        >
          {COLUMN_NAMES.map((name) => (
            <DropdownMenu.CheckboxItem
              key={name}
              checked={chosen.includes(name)}
              // several are chosen one after the other
              onSelect={(event) => event.preventDefault()}
              onCheckedChange={(isOn) =>
                onChange(COLUMN_NAMES.filter((one) => (one === name ? isOn : chosen.includes(one))))
              }
              className="flex cursor-pointer items-center gap-2 rounded py-1 pr-4 pl-7 outline-none data-highlighted:bg-act-wash"
            >
              <DropdownMenu.ItemIndicator className="absolute left-3">
                <Check size={13} aria-hidden />
              </DropdownMenu.ItemIndicator>
              {CHOSEN_COLUMNS[name].head}
            </DropdownMenu.CheckboxItem>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
