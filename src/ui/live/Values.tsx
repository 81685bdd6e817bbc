'use client'
import { Committed } from '../bench/Committed'

/** What steps can refer to at this moment; what was given or read may be changed, for steps that follow. */
export function Values({
  values,
  editable,
  onSet,
}: {
  values: Readonly<Record<string, string>>
  editable: boolean
  onSet(name: string, value: string): void
}) {
  const all = Object.entries(values)
  if (all.length === 0) return null
  return (
    <section aria-label="Values here" className="border-b border-line px-[14px] py-3">
      <h2 className="label mb-1">Values here</h2>
      <dl className="grid grid-cols-[minmax(0,auto)_1fr] items-center gap-x-2 gap-y-0.5 font-mono text-xs">
        {all.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="truncate text-soft">{name}</dt>
            <dd className="min-w-0">
              {editable && !name.startsWith('row.') ? (
                <Committed label={`Value of ${name}`} value={value} onCommit={(text) => onSet(name, text)} />
              ) : (
                <span className="block truncate">{value}</span>
              )}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  )
}
