import { Committed } from './Committed'
import { NewName } from './NewName'

/** Named values: a line each, a new one by writing its name. */
export function Values({
  value = {},
  names,
  onSet,
  hint,
  label,
}: {
  value?: Record<string, string> | undefined
  names?: string[] | undefined
  onSet(value: Record<string, string> | undefined): void
  hint?: string | undefined
  label: string
}) {
  const put = (name: string, text: string | undefined) => {
    const next = Object.fromEntries(
      Object.entries({ ...value, [name]: text }).filter(
        (pair): pair is [string, string] => pair[1] !== undefined && pair[1] !== '',
      ),
    )
    onSet(Object.keys(next).length > 0 ? next : undefined)
  }
  const known = [...new Set([...(names ?? []), ...Object.keys(value)])]
  return (
    <div className="flex flex-col gap-1" role="group" aria-label={label}>
      {known.map((name) => (
        <div key={name} className="grid grid-cols-[120px_1fr] items-center gap-2">
          <span
            className={`truncate font-mono text-xs ${names && !names.includes(name) ? 'text-failed' : 'text-soft'}`}
            title={name}
          >
            {name}
            {names && !names.includes(name) && (
              <span className="block font-sans whitespace-normal">the routine has no such parameter</span>
            )}
          </span>
          <Committed
            label={`${label}: ${name}`}
            value={value[name] ?? ''}
            onCommit={(text) => put(name, text)}
            hint={names ? 'as the routine says' : ''}
          />
        </div>
      ))}
      {!names && <NewName label={label} hint={hint} taken={known} onAdd={(name) => put(name, '?')} />}
    </div>
  )
}
