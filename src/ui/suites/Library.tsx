'use client'
import { useVirtualizer } from '@tanstack/react-virtual'
import { ChevronDown, ChevronRight } from 'lucide-react'
import Link from '../base/Link'
import { useDeferredValue, useMemo, useRef, useState } from 'react'
import type { DefinitionKind } from '@/core/model'
import type { LibraryLine, SuiteNode, SuitesViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { benchPath } from '../bench/path'
import { useKeys } from '../frame/keys'

type Line =
  | { kind: 'suite'; id: string; depth: number; node: SuiteNode }
  | { kind: 'head'; id: string; title: string; count: number; open: boolean; section: Section }
  | { kind: 'entry'; id: string; line: LibraryLine }
type Section = 'case' | 'routine' | 'data'
const SECTIONS: [Section, string][] = [
  ['case', 'Cases'],
  ['routine', 'Routines'],
  ['data', 'Tables'],
]
const ROW_PX = 26

type Props = {
  viewModel: SuitesViewModel
  selected: string | null
  onSuite(key: string): void
  onCase(key: string): void
  caseKey: string | null
  action?: React.ReactNode
}

/** Everything there is, by kind: filtered as one types, drawn in a window. */
export function Library({ viewModel, selected, onSuite, onCase, caseKey, action }: Props) {
  const [text, setText] = useState('')
  const [open, setOpen] = useState<ReadonlySet<Section>>(new Set())
  const field = useRef<HTMLInputElement>(null)
  const box = useRef<HTMLDivElement>(null)
  const filter = useDeferredValue(text.trim().toLowerCase())
  useKeys([
    { key: '/', what: 'filter suites, cases, routines and tables', run: () => field.current?.focus() },
  ])
  const { data: all } = useViewModel<LibraryLine[]>('/api/library', ['definitions'])
  const found = useMemo(() => (all ?? []).map(findable), [all])
  const lines = useMemo(() => linesOf(viewModel, found, filter, open), [viewModel, found, filter, open])
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_PX,
    overscan: 20,
    getItemKey: (i) => lines[i]!.id,
  })
  const toggle = (section: Section) =>
    setOpen(
      (now) => new Set(now.has(section) ? [...now].filter((one) => one !== section) : [...now, section]),
    )
  return (
    <nav aria-label="Suites" className="flex min-h-0 flex-col border-r border-line bg-surface">
      <div className="border-b border-line p-2">
        <input
          ref={field}
          type="search"
          aria-label="Filter"
          placeholder="Filter  /"
          value={text}
          onChange={({ target }) => setText(target.value)}
          className="h-[28px] w-full rounded-oak border border-line bg-raised px-2 text-sm"
        />
      </div>
      <div ref={box} className="min-h-0 flex-1 overflow-auto py-1" data-lines={lines.length}>
        <ul style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const line = lines[index]!
            return (
              <li
                key={line.id}
                style={{ position: 'absolute', top: start, left: 0, right: 0, height: ROW_PX }}
              >
                {draw(line, { selected, onSuite, onCase, caseKey, toggle })}
              </li>
            )
          })}
        </ul>
        {lines.length === 0 && <p className="px-3 py-2 text-sm text-soft">Nothing is called like that.</p>}
      </div>
      {action && <div className="border-t border-line p-2">{action}</div>}
    </nav>
  )
}

/** A line with what a filter looks at, made once: not again with each key. */
type Findable = { line: LibraryLine; words: string; tags: readonly string[] }
const findable = (line: LibraryLine): Findable => ({
  line,
  words: `${line.title}\n${line.key}`.toLowerCase(),
  tags: line.tags.map((tag) => tag.toLowerCase()),
})

function linesOf(
  { tree, counts }: SuitesViewModel,
  lines: readonly Findable[],
  filter: string,
  open: ReadonlySet<Section>,
): Line[] {
  const fits = ({ title, key }: SuiteNode) =>
    title.toLowerCase().includes(filter) || key.toLowerCase().includes(filter)
  const suites: Extract<Line, { kind: 'suite' }>[] = []
  const visit = (node: SuiteNode, depth: number, above: string): void => {
    const id = `${above}/${node.key}`
    if (filter === '' || fits(node))
      suites.push({ kind: 'suite', id, depth: filter === '' ? depth : 0, node })
    node.children.forEach((child) => visit(child, depth + 1, id))
  }
  tree.forEach((node) => visit(node, 0, ''))
  const unique = filter === '' ? suites : [...new Map(suites.map((line) => [line.node.key, line])).values()]
  return [
    ...unique,
    ...SECTIONS.flatMap(([section, title]): Line[] => {
      const found = lines.filter(
        ({ line, words, tags }) =>
          line.kind === section && (filter === '' || words.includes(filter) || tags.includes(filter)),
      )
      const shown = filter !== '' || open.has(section)
      return found.length === 0 && filter !== ''
        ? []
        : [
            {
              kind: 'head',
              id: `head ${section}`,
              title,
              count: filter === '' ? counts[section] : found.length,
              open: shown,
              section,
            },
            ...(shown
              ? found.map(({ line }): Line => ({ kind: 'entry', id: `${section} ${line.key}`, line }))
              : []),
          ]
    }),
  ]
}

type Tools = Pick<Props, 'selected' | 'onSuite' | 'onCase' | 'caseKey'> & { toggle(section: Section): void }

function draw(line: Line, { selected, onSuite, onCase, caseKey, toggle }: Tools): React.ReactNode {
  const look = (here: boolean) =>
    'flex h-full w-full items-center gap-2 border-l-[3px] pr-3 text-left text-sm ' +
    `${here ? 'border-act bg-act-wash font-semibold' : 'border-transparent hover:bg-act-wash'}`
  switch (line.kind) {
    case 'suite':
      return (
        <button
          type="button"
          onClick={() => onSuite(line.node.key)}
          aria-current={line.node.key === selected ? 'true' : undefined}
          style={{ paddingLeft: 12 + line.depth * 14 }}
          className={look(line.node.key === selected)}
        >
          <span className="min-w-0 flex-1 truncate">{line.node.title}</span>
          <span className="text-xs text-soft">{line.node.cases}</span>
        </button>
      )
    case 'head': {
      const Icon = line.open ? ChevronDown : ChevronRight
      return (
        <button
          type="button"
          aria-expanded={line.open}
          onClick={() => toggle(line.section)}
          className="label flex h-full w-full items-center gap-1 px-2 text-left hover:bg-act-wash"
        >
          <Icon size={13} aria-hidden />
          <span className="flex-1">{line.title}</span>
          <span>{line.count}</span>
        </button>
      )
    }
    case 'entry': {
      const { kind, key, title } = line.line
      const sign = <StateSign line={line.line} />
      return kind === 'case' ? (
        <button type="button" onClick={() => onCase(key)} className={`${look(key === caseKey)} pl-5`}>
          <span className="min-w-0 flex-1 truncate" title={key}>
            {title}
          </span>
          {sign}
        </button>
      ) : (
        <Link href={benchPath(kind as DefinitionKind, key)} className={`${look(false)} pl-5`}>
          <span className="min-w-0 flex-1 truncate">{title}</span>
          {sign}
        </Link>
      )
    }
  }
}

function stateWords({ edited, conflict, broken }: LibraryLine): string | undefined {
  if (conflict) return 'edited here and in the repository'
  if (broken) return 'its file has problems'
  return edited ? 'edited here, not committed' : undefined
}

function StateSign({ line }: { line: LibraryLine }) {
  const words = stateWords(line)
  if (words === undefined) return null
  return (
    <span
      role="img"
      aria-label={words}
      title={words}
      className={`size-1.5 shrink-0 rounded-full ${line.conflict || line.broken ? 'bg-failed' : 'bg-recovered'}`}
    />
  )
}
