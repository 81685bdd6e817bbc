'use client'
import { useMemo } from 'react'
import { describeDuration, outermost, pathsAfterMove, type Edit, type Path, type Place } from '@/core/model'
import { plural, type OutlineEntry, type SuiteViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { useKeys } from '../frame/keys'
import { idOf, type TreeRow } from '../tree/rows'
import { TreeList } from '../tree/TreeList'
import { AddEntry } from './AddEntry'
import { LastMarks } from './LastMarks'
import { HintedWords } from '../base/Hint'

export type EntryRow = TreeRow & { entry: OutlineEntry }

/** Lines of the outline with their places in the suite's file. */
export const entryRows = (outline: readonly OutlineEntry[]): EntryRow[] =>
  outline.map((entry) => {
    const path: Path = entry.own
      ? entry.id.split('.').flatMap((part) => ['entries', Number(part)])
      : [entry.id]
    return {
      id: entry.own ? idOf(path) : entry.id,
      path,
      depth: entry.depth,
      title: entry.title,
      entry,
      fixed: !entry.own,
      dim: entry.off || entry.offAbove,
      ...(entry.own && entry.kind !== 'suite' && { holds: 'entries', group: entry.kind === 'group' }),
    }
  })

type Props = {
  suite: SuiteViewModel
  selected: string[]
  onSelect(ids: string[]): void
  /** Where the chosen entries stand after an edit. */ onMoved(ids: string[]): void
  onOpen(row: EntryRow): void
  editable: boolean
  edit(...edits: Edit[]): boolean
  cases: readonly { key: string; title: string }[]
  suites: readonly { key: string; title: string }[]
}

/** The suite as a tree: ordered by drag and keys, switched, grouped, copied; what belongs to other suites is
 * shown and left alone. */
export function OutlineEditor({
  suite,
  selected,
  onSelect,
  onMoved,
  onOpen,
  editable,
  edit,
  cases,
  suites,
}: Props) {
  const rows = useMemo(() => entryRows(suite.outline), [suite.outline])
  const chosen = rows.filter((row) => selected.includes(row.id) && !row.fixed)
  const paths = outermost(chosen.map(({ path }) => path))
  const place: Place =
    paths.length > 0
      ? { list: paths.at(-1)!.slice(0, -1), at: (paths.at(-1)!.at(-1) as number) + 1 }
      : { list: ['entries'], at: rows.filter(({ depth }) => depth === 0).length }
  const move = (moved: Path[], to: Place) =>
    edit({ do: 'move', paths: moved, ...to }) && onMoved(pathsAfterMove(moved, to).map(idOf))
  const allOff = chosen.every(({ entry }) => entry.off)
  const toggle = (list = chosen) =>
    edit(
      ...list.map(({ path, entry }) => ({
        do: 'set' as const,
        path: [...path, 'off'],
        value: entry.off && (list.length === 1 || allOff) ? undefined : true,
      })),
    )
  const remove = () => edit({ do: 'remove', paths }) && onMoved([])
  const copy = () =>
    edit({ do: 'copy', paths, ...place }) && onMoved(paths.map((_, i) => idOf([...place.list, place.at + i])))
  const oneList =
    paths.length > 0 && paths.every((path) => idOf(path.slice(0, -1)) === idOf(paths[0]!.slice(0, -1)))
  const group = () =>
    oneList &&
    edit({ do: 'wrap', paths, value: { group: 'New group' }, into: 'entries' }) &&
    onMoved([idOf(paths[0]!)])
  const ungroup = () =>
    chosen[0] && edit({ do: 'unwrap', path: chosen[0].path, field: 'entries' }) && onMoved([])
  const add = (value: Record<string, unknown>) =>
    edit({ do: 'insert', ...place, values: [value] }) && onMoved([idOf([...place.list, place.at])])
  const some = chosen.length > 0 && editable
  useKeys([
    { key: 'x', what: 'switch the chosen entries off or on', off: !some, run: () => void toggle() },
    { key: 'c', what: 'copy the chosen entries', off: !some, run: () => void copy() },
    { key: 'w', what: 'put the chosen entries into a group', off: !some, run: () => void group() },
    { key: 'Delete', what: 'take the chosen entries out', off: !some, run: () => void remove() },
  ])
  return (
    <div className="flex h-full min-h-0 flex-col">
      {editable && suite.rule === null && (
        <div className="flex h-9 shrink-0 items-center gap-1 border-b border-line px-[14px]">
          <AddEntry cases={cases} suites={suites} onAdd={add} />
          <span className="flex-1" />
          {some && (
            <>
              <Button look="quiet" className="!h-6 !px-2" keyHint="x" onClick={() => toggle()}>
                {allOff ? 'Switch on' : 'Switch off'}
              </Button>
              <Button look="quiet" className="!h-6 !px-2" keyHint="c" onClick={copy}>
                Copy
              </Button>
              {oneList && (
                <Button look="quiet" className="!h-6 !px-2" keyHint="w" onClick={group}>
                  Into a group
                </Button>
              )}
              {chosen.length === 1 && chosen[0]!.entry.kind === 'group' && (
                <Button look="quiet" className="!h-6 !px-2" onClick={ungroup}>
                  Ungroup
                </Button>
              )}
              <Button look="quiet" className="!h-6 !px-2" onClick={remove}>
                Take out
              </Button>
            </>
          )}
        </div>
      )}
      <div className="min-h-0 flex-1">
        {rows.length === 0 && suite.rule === null ? (
          <p className="px-[18px] py-6 text-sm text-soft">
            The suite is empty. Add cases, other suites and groups; their order is the order they run in.
          </p>
        ) : (
          <TreeList
            label={`Entries of ${suite.title}`}
            rows={rows}
            selected={selected}
            onSelect={onSelect}
            onOpen={onOpen}
            scrolls
            {...(editable && { onMove: (moved: Path[], to: Place) => void move(moved, to) })}
          >
            {(row) => (
              <EntryLine
                row={row}
                onToggle={editable && row.entry.own ? () => void toggle([row]) : undefined}
              />
            )}
          </TreeList>
        )}
      </div>
      {suite.leftOut.length > 0 && (
        <p
          className="max-h-[20%] shrink-0 overflow-auto border-t border-line px-[18px] py-2 text-sm text-soft"
          role="status"
        >
          {plural(suite.leftOut.length, 'entry', 'entries')} left out:{' '}
          {suite.leftOut.slice(0, 12).map(({ title, why }, i) => (
            <span key={i}>
              {i > 0 && ', '}
              <b className="font-semibold text-ink">{title}</b> ({why})
            </span>
          ))}
          {suite.leftOut.length > 12 && ', …'}
        </p>
      )}
    </div>
  )
}

const FAILURE_WORDS = {
  'go-on': 'goes on after a failure',
  'skip-children': 'a failure skips the rest',
  stop: 'a failure stops the run',
}

function EntryLine({ row, onToggle }: { row: EntryRow; onToggle: (() => void) | undefined }) {
  const { entry } = row
  const {
    kind,
    title,
    off,
    offAbove,
    rows,
    repeat,
    limitMs,
    uses,
    after,
    onFailure,
    data,
    last,
    estimateMs,
  } = entry
  const dim = off || offAbove
  return (
    <>
      <input
        type="checkbox"
        tabIndex={-1}
        aria-label={`${title} runs`}
        checked={!off}
        disabled={!onToggle}
        onChange={() => onToggle?.()}
        className={`mr-2 size-[13px] shrink-0 accent-[var(--act)] ${offAbove ? 'opacity-40' : ''}`}
      />
      <span className="mr-2 flex min-w-0 flex-1 items-center gap-1.5 overflow-hidden">
        <span
          className={
            `min-w-[90px] truncate ${kind === 'case' ? '' : 'font-semibold'} ` +
            `${dim ? 'text-faint line-through' : ''}`
          }
          title={title}
        >
          {title}
        </span>
        {kind === 'suite' && <span className="chip">suite</span>}
        {off && <span className="chip">off</span>}
        {rows > 0 && <span className="chip">{plural(rows, 'row')}</span>}
        {data && <span className="chip">{data}</span>}
        {repeat > 1 && <span className="chip">× {repeat}</span>}
        {limitMs !== undefined && <span className="chip">limit {describeDuration(limitMs)}</span>}
        {Object.keys(entry.with).length > 0 && (
          <HintedWords
            className="chip"
            text={Object.entries(entry.with)
              .map(([name, value]) => `${name} ${value}`)
              .join(', ')}
          >
            {plural(Object.keys(entry.with).length, 'value')}
          </HintedWords>
        )}
        {after.length > 0 && (
          <HintedWords className="chip" text={`after ${after.join(', ')}`}>
            after {after[0]}
          </HintedWords>
        )}
        {onFailure && <span className="chip">{FAILURE_WORDS[onFailure]}</span>}
        {uses.map((name) => (
          <span key={name} className="chip">
            alone with {name}
          </span>
        ))}
      </span>
      {kind === 'case' && <LastMarks marks={last} title={title} />}
      <span
        className={`w-[66px] shrink-0 text-right text-sm ${dim ? 'text-faint line-through' : 'text-soft'}`}
      >
        {describeDuration(estimateMs)}
      </span>
    </>
  )
}
