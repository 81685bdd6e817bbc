'use client'
import { ExternalLink } from 'lucide-react'
import { Field } from '../base/Field'
import { TextField } from '../base/fields'
import type { Sheet } from './useSheet'

type Props = {
  addresses: Record<string, string>
  row: Record<string, string> | null
  sheet: Sheet
  disabled: boolean
}
const FACTS = [
  ['device', 'Device'],
  ['system', 'System'],
  ['browser', 'Browser'],
] as const

/** What the case is done with: where its applications are, the values of its row, the system. */
export function Around({ addresses, row, sheet: { facts, setFacts }, disabled }: Props) {
  return (
    <aside className="flex min-h-0 flex-col gap-5 overflow-auto border-l border-line bg-surface px-4 py-4 text-sm">
      {Object.keys(addresses).length > 0 && (
        <section>
          <h2 className="label mb-1">Where</h2>
          <ul className="flex flex-col gap-1">
            {Object.entries(addresses).map(([key, address]) => (
              <li key={key}>
                <a
                  href={address}
                  target="_blank"
                  rel="noreferrer"
                  className="inline-flex items-center gap-1 underline"
                >
                  {key} <ExternalLink size={12} aria-hidden />
                  <span className="sr-only">opens another window</span>
                </a>
              </li>
            ))}
          </ul>
        </section>
      )}
      {row && (
        <section>
          <h2 className="label mb-1">Values</h2>
          <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
            {Object.entries(row).map(([name, value]) => (
              <div key={name} className="contents">
                <dt className="text-soft">{name}</dt>
                <dd className="min-w-0 font-mono text-xs leading-5 break-words">{value}</dd>
              </div>
            ))}
          </dl>
        </section>
      )}
      <section className="flex flex-col gap-2">
        <h2 className="label">Done on</h2>
        {FACTS.map(([name, label]) => (
          <Field key={name} label={label}>
            <TextField
              value={facts[name] ?? ''}
              maxLength={300}
              disabled={disabled}
              onChange={({ target }) => setFacts({ ...facts, [name]: target.value })}
            />
          </Field>
        ))}
      </section>
    </aside>
  )
}
