'use client'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Command } from 'cmdk'
import { BookOpen, Bug, CalendarClock, FileText, FolderTree, LifeBuoy, Monitor, Play } from 'lucide-react'
import { useRouter } from '../base/opening'
import { VisuallyHidden } from 'radix-ui'
import { type KeyboardEvent, useDeferredValue, useEffect, useRef, useState } from 'react'
import type { FinderHit } from '@/core/view-models'
import { api } from '../api'
import { ALL_PLACES } from './views'

const ICONS = {
  case: FileText,
  suite: FolderTree,
  rotation: CalendarClock,
  policy: LifeBuoy,
  run: Play,
  defect: Bug,
  agent: Monitor,
  help: BookOpen,
} as const
const KINDS: Record<FinderHit['kind'], string> = {
  case: 'Cases',
  suite: 'Suites',
  rotation: 'Rotations',
  policy: 'Recovery policies',
  run: 'Runs',
  defect: 'Defects',
  agent: 'Agents',
  help: 'Help',
}
export type FinderAction = { name: string; run(): void }

type Entry = { value: string; title: string; detail?: string; kind?: FinderHit['kind']; run(): void }
type Group = { heading: string; entries: Entry[] }

const hitsOf = (asked: string) => ({
  queryKey: ['finder', asked],
  queryFn: () => api<FinderHit[]>(`/api/finder?q=${encodeURIComponent(asked)}`),
})

/** What the dialog offers for these words, as it stands there; without groups that have no entry. */
function groupsOf(hits: FinderHit[], words: string, actions: FinderAction[], goTo: (href: string) => void) {
  const fits = ({ name }: { name: string }) => name.toLowerCase().includes(words.toLowerCase())
  const found = (Object.keys(KINDS) as FinderHit['kind'][]).map((kind): Group => {
    const own = hits.filter((hit) => hit.kind === kind)
    const entryOf = (hit: FinderHit) => ({ ...hit, value: hit.href, run: () => goTo(hit.href) })
    return { heading: KINDS[kind], entries: own.map(entryOf) }
  })
  const places = ALL_PLACES.filter(fits).map(({ name, path }): Entry => {
    return { value: `go ${name}`, title: name, run: () => goTo(path) }
  })
  const deeds = actions
    .filter(fits)
    .map(({ name, run }): Entry => ({ value: `do ${name}`, title: name, run }))
  const all = [...found, { heading: 'Go to', entries: places }, { heading: 'Do', entries: deeds }]
  return all.filter(({ entries }) => entries.length > 0)
}

/** Go anywhere, do anything by its name. */
export function FinderDialog({ actions, onClose }: { actions: FinderAction[]; onClose(): void }) {
  const [typed, setTyped] = useState('')
  const words = typed.trim()
  const asked = useDeferredValue(words)
  const router = useRouter()
  const client = useQueryClient()
  const latest = useRef<string>(undefined)
  useEffect(() => () => void (latest.current = undefined), [])
  const { data, isPlaceholderData } = useQuery({
    ...hitsOf(asked),
    enabled: asked !== '',
    placeholderData: (old) => old,
  })
  const hits = asked === '' ? undefined : data
  const isCurrent = asked === words && !isPlaceholderData && (asked === '' || hits !== undefined)

  const offer = (found: FinderHit[]) => groupsOf(found, words, actions, (href) => router.push(href))
  const groups = offer(hits ?? [])
  const entries = groups.flatMap((group) => group.entries)
  // what was picked among earlier hits is no choice among these
  const [picked, setPicked] = useState<{ value: string; among?: FinderHit[] }>({ value: '' })
  const isPicked = picked.among === hits && entries.some(({ value }) => value === picked.value)
  const chosen = isPicked ? picked.value : (entries[0]?.value ?? '')

  const take = (entry?: Entry) => {
    if (!entry) return
    onClose()
    entry.run()
  }
  /** Somebody quicker than the answer gets the first of what these words find. */
  const takeFirst = async () => {
    const found = await client.fetchQuery(hitsOf(words)).catch(() => [])
    if (latest.current === words) take(offer(found)[0]?.entries[0])
  }
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== 'Enter' || event.nativeEvent.isComposing || isCurrent) return
    event.preventDefault()
    void takeFirst()
  }
  return (
    <Command.Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      label="Find anything"
      shouldFilter={false}
      value={chosen}
      onValueChange={(value) => setPicked({ value, among: hits })}
      onKeyDown={onKeyDown}
      overlayClassName="fixed inset-0 z-40 bg-shade"
      contentClassName={
        'fixed top-[12vh] left-1/2 z-50 w-[560px] max-w-[calc(100vw-48px)] -translate-x-1/2 ' +
        'rounded-oak border border-line bg-raised shadow-xl'
      }
    >
      <VisuallyHidden.Root>Find anything</VisuallyHidden.Root>
      <Command.Input
        value={typed}
        onValueChange={(value) => {
          setTyped(value)
          latest.current = value.trim()
        }}
        placeholder="A case, run, defect, agent, or what to do"
        className="w-full border-b border-line bg-transparent px-4 py-3 text-base outline-none placeholder:text-soft"
      />
      <Command.List
        className={
          'max-h-[50vh] overflow-auto p-2 [&_[cmdk-group-heading]]:px-2.5 [&_[cmdk-group-heading]]:pt-2 ' +
          '[&_[cmdk-group-heading]]:text-[11px] [&_[cmdk-group-heading]]:font-semibold ' +
          '[&_[cmdk-group-heading]]:text-soft'
        }
      >
        {isCurrent && entries.length === 0 && (
          <p className="px-2.5 py-3 text-sm text-soft">Nothing of that name.</p>
        )}
        {groups.map(({ heading, entries: own }) => (
          <Command.Group key={heading} heading={heading}>
            {own.map((entry) => (
              <Row key={entry.value} entry={entry} onSelect={() => take(entry)} />
            ))}
          </Command.Group>
        ))}
      </Command.List>
    </Command.Dialog>
  )
}

function Row({ entry, onSelect }: { entry: Entry; onSelect(): void }) {
  const Icon = entry.kind && ICONS[entry.kind]
  return (
    <Command.Item
      value={entry.value}
      onSelect={onSelect}
      className="flex items-center gap-2.5 rounded-[4px] px-2.5 py-1.5 text-sm data-[selected=true]:bg-act-wash"
    >
      {Icon && <Icon size={14} className="text-soft" />}
      <span className="truncate">{entry.title}</span>
      {entry.detail !== undefined && (
        <span className="ml-auto truncate pl-4 text-xs text-soft">{entry.detail}</span>
      )}
    </Command.Item>
  )
}
