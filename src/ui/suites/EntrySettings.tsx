'use client'
import Link from '../base/Link'
import { ON_FAILURE, type Edit, type OnFailure } from '@/core/model'
import type { OutlineEntry } from '@/core/view-models'
import { Committed } from '../bench/Committed'
import { NewName } from '../bench/NewName'
import { benchPath } from '../bench/path'
import type { EntryRow } from './OutlineEditor'
import { Select } from '../base/fields'

type Props = {
  row: EntryRow
  rows: readonly EntryRow[]
  tables: readonly string[]
  editable: boolean
  edit(...edits: Edit[]): boolean
}
const FAILURE: Record<OnFailure, string> = {
  'go-on': 'go on',
  'skip-children': 'skip the rest',
  stop: 'stop the run',
}

/** The settings an entry has of its own, each with where its value comes from. */
export function EntrySettings({ row, rows, tables, editable, edit }: Props) {
  const { entry, path } = row
  const set = (field: string, value: unknown) => void edit({ do: 'set', path: [...path, field], value })
  const above = rows.filter(
    (other) =>
      other.entry.own && other.path.length < path.length && other.path.every((part, i) => part === path[i]),
  )
  const names = [
    ...new Set([
      ...Object.keys(entry.parameters),
      ...above.flatMap((other) => Object.keys(other.entry.with)),
      ...Object.keys(entry.with),
    ]),
  ]
  const others = [
    ...new Set(
      rows
        .filter((other) => other.entry.own && other.id !== row.id && !above.includes(other))
        .map(({ title }) => title),
    ),
  ]
  const give = (name: string, value: string) => {
    const next = Object.fromEntries(
      Object.entries({ ...entry.with, [name]: value }).filter(([, text]) => text !== ''),
    )
    set('with', Object.keys(next).length > 0 ? next : undefined)
  }
  const label = (text: string) => <span className="label pt-1.5">{text}</span>
  return (
    <fieldset
      disabled={!editable}
      className="grid grid-cols-[104px_1fr] items-start gap-x-3 gap-y-2 border-b border-line px-4 py-3"
    >
      <legend className="sr-only">Settings of {row.title}</legend>
      {entry.kind === 'group' ? (
        <>
          {label('Group')}
          <Committed
            label="Group"
            value={entry.title}
            onCommit={(name) => name.trim() && set('group', name.trim())}
          />
        </>
      ) : (
        <>
          {label('Name here')}
          <Committed
            label="Name here"
            value={entry.name ?? ''}
            hint={entry.title}
            onCommit={(name) => set('name', name.trim() || undefined)}
          />
        </>
      )}
      {label('Repeat')}
      <Committed
        label="Repeat"
        narrow
        value={String(entry.repeat)}
        onCommit={(text) => set('repeat', Number(text) > 1 ? Number(text) : undefined)}
      />
      {label('Time limit')}
      <Committed
        label="Time limit"
        narrow
        value={entry.limitMs === undefined ? '' : `${entry.limitMs / 1000}s`}
        hint="as the case says"
        onCommit={(text) => set('limit', text || undefined)}
      />
      {entry.kind === 'case' && (
        <>
          {label('Data')}
          <Select
            aria-label="Data"
            value={entry.data ?? ''}
            onChoose={(chosen) => set('data', chosen || undefined)}
            choices={tables.map((value) => ({ value }))}
          >
            <option value="">as the case says</option>
          </Select>
        </>
      )}
      {label('Runs after')}
      <div className="flex flex-col gap-1">
        {entry.after.map((name) => (
          <span key={name} className="flex items-center gap-2 text-sm">
            {name}
            <button
              type="button"
              className="text-xs text-soft underline"
              onClick={() =>
                set('after', entry.after.length > 1 ? entry.after.filter((one) => one !== name) : undefined)
              }
            >
              take out
            </button>
          </span>
        ))}
        <Select
          aria-label="Runs after"
          className="border-dashed text-soft"
          value=""
          onChoose={(chosen) => set('after', [...entry.after, chosen])}
        >
          <option value="">{entry.after.length > 0 ? 'and after' : 'nothing in particular'}</option>
          {others
            .filter((name) => !entry.after.includes(name))
            .map((name) => (
              <option key={name}>{name}</option>
            ))}
        </Select>
      </div>
      {label('On failure')}
      <Select
        aria-label="On failure"
        value={entry.onFailure ?? ''}
        onChoose={(chosen) => set('onFailure', chosen || undefined)}
      >
        <option value="">
          {entry.kind === 'case' ? 'as usual: its children are skipped' : 'as usual: go on'}
        </option>
        {ON_FAILURE.map((one) => (
          <option key={one} value={one}>
            {FAILURE[one]}
          </option>
        ))}
      </Select>
      {label('Values')}
      <div className="flex flex-col gap-1.5">
        {names.map((name) => {
          const { value, from } = originOf(name, entry, above)
          return (
            <div key={name} className="grid grid-cols-[92px_1fr] items-center gap-2">
              <span className="truncate font-mono text-xs text-soft" title={name}>
                {name}
              </span>
              <div>
                <Committed
                  label={`Value of ${name}`}
                  value={entry.with[name] ?? ''}
                  hint={value}
                  onCommit={(text) => give(name, text)}
                />
                <span className="text-xs text-soft">from {from}</span>
              </div>
            </div>
          )
        })}
        {entry.kind !== 'case' || names.length === 0 ? (
          <NewName
            label="Values"
            hint={entry.kind === 'case' ? 'no parameters' : 'value for all below'}
            taken={names}
            onAdd={(name) => give(name, '?')}
          />
        ) : null}
      </div>
      {entry.kind !== 'group' && (
        <>
          <span />
          <Link className="text-sm underline" href={benchPath(entry.kind, entry.caseKey ?? entry.suiteKey!)}>
            Open the {entry.kind}
          </Link>
        </>
      )}
    </fieldset>
  )
}

/** The value that counts, and who gave it: this entry, the nearest above it, or the case. */
function originOf(
  name: string,
  entry: OutlineEntry,
  above: readonly EntryRow[],
): { value: string; from: string } {
  if (entry.with[name] !== undefined) return { value: entry.with[name], from: 'this entry' }
  const giver = above.findLast((row) => row.entry.with[name] !== undefined)
  return giver
    ? { value: giver.entry.with[name]!, from: giver.title }
    : { value: entry.parameters[name] ?? '', from: 'the case' }
}
