'use client'
import { X } from 'lucide-react'
import { SCREEN_WAYS, TARGET_WAYS } from '@/core/model'
import { Committed } from './Committed'
import { Select } from '../base/fields'

const WAYS = [...TARGET_WAYS, ...SCREEN_WAYS]
const WAY_WORDS: Record<(typeof WAYS)[number], string> = {
  testId: 'test id',
  role: 'role',
  label: 'label',
  placeholder: 'placeholder',
  text: 'text',
  css: 'CSS',
  picture: 'picture',
  words: 'words seen',
}
type Value = Record<string, string>

/** How something on the page is found: one way or several, tried from the top. */
export function TargetFields({
  id,
  value = {},
  onSet,
}: {
  id: string
  value?: Value | undefined
  onSet(value: Value | undefined): void
}) {
  const used = WAYS.filter((way) => value[way] !== undefined)
  const free = WAYS.filter((way) => value[way] === undefined)
  const set = (next: Value) => {
    const { name, ...rest } = next
    const clean = Object.fromEntries(Object.entries(rest).filter(([, text]) => text !== ''))
    const named = clean.role !== undefined && name ? { ...clean, name } : clean
    onSet(Object.keys(clean).length === 0 ? undefined : named)
  }
  const rename = (from: string, to: string) =>
    set(Object.fromEntries(Object.entries(value).map(([way, text]) => [way === from ? to : way, text])))
  return (
    <div className="flex flex-col gap-1">
      {used.map((way, i) => (
        <div key={way} className="flex items-center gap-1.5">
          <Select
            {...(i === 0 && { id })}
            aria-label="Way to find it"
            width="w-28"
            value={way}
            onChoose={(chosen) => rename(way, chosen)}
          >
            {[way, ...free].map((one) => (
              <option key={one} value={one}>
                {WAY_WORDS[one]}
              </option>
            ))}
          </Select>
          <Committed
            label={WAY_WORDS[way]}
            value={value[way]!}
            onCommit={(text) => set({ ...value, [way]: text })}
          />
          {way === 'role' && (
            <>
              <span className="text-xs text-soft">named</span>
              <Committed
                label="accessible name"
                value={value.name ?? ''}
                onCommit={(name) => set({ ...value, name })}
              />
            </>
          )}
          <button
            type="button"
            aria-label={`Take ${WAY_WORDS[way]} out`}
            className="p-1 text-soft hover:text-ink"
            onClick={() => set({ ...value, [way]: '' })}
          >
            <X size={13} aria-hidden />
          </button>
        </div>
      ))}
      <Select
        {...(used.length === 0 && { id })}
        aria-label="Another way to find it"
        width="w-auto"
        className="self-start border-dashed text-soft"
        value=""
        onChoose={(chosen) => set({ ...value, [chosen]: '?' })}
      >
        <option value="">{used.length === 0 ? 'not set' : 'another way, if these fail'}</option>
        {free.map((way) => (
          <option key={way} value={way}>
            {WAY_WORDS[way]}
          </option>
        ))}
      </Select>
    </div>
  )
}
