'use client'
import { useQuery } from '@tanstack/react-query'
import { Command } from 'cmdk'
import { BookOpen, Bug, CalendarClock, FileText, FolderTree, LifeBuoy, Monitor, Play } from 'lucide-react'
import { useRouter } from 'next/navigation'
import { VisuallyHidden } from 'radix-ui'
import { useDeferredValue, useState } from 'react'
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

/** Go anywhere, do anything by its name. */
export function FinderDialog({ actions, onClose }: { actions: FinderAction[]; onClose(): void }) {
  const [words, setWords] = useState('')
  const asked = useDeferredValue(words.trim())
  const router = useRouter()
  const { data: hits = [] } = useQuery({
    queryKey: ['finder', asked],
    queryFn: () => api<FinderHit[]>(`/api/finder?q=${encodeURIComponent(asked)}`),
    enabled: asked !== '',
    placeholderData: (old) => old,
  })
  const done = (run: () => void) => {
    onClose()
    run()
  }
  const fits = (name: string) => name.toLowerCase().includes(words.trim().toLowerCase())
  const places = ALL_PLACES.filter(({ name }) => fits(name))
  const deeds = actions.filter(({ name }) => fits(name))
  const isNothing = asked !== '' && hits.length + places.length + deeds.length === 0
  const row = 'flex items-center gap-2.5 rounded-[4px] px-2.5 py-1.5 text-sm data-[selected=true]:bg-act-wash'
  return (
    <Command.Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      label="Find anything"
      shouldFilter={false}
      overlayClassName="fixed inset-0 z-40 bg-shade"
      contentClassName="fixed top-[12vh] left-1/2 z-50 w-[560px] max-w-[calc(100vw-48px)] -translate-x-1/2 rounded-oak border border-line bg-raised shadow-xl"
    >
      <VisuallyHidden.Root>Find anything</VisuallyHidden.Root>
      <Command.Input
        value={words}
        onValueChange={setWords}
        placeholder="A case, run, defect, agent, or what to do"
        className="w-full border-b border-line bg-transparent px-4 py-3 text-base outline-none placeholder:text-soft"
      />
      <Command.List className="max-h-[50vh] overflow-auto p-2 [&_[cmdk-group-heading]]:px-2.5 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[11px] [&_[cmdk-group-heading]]:font-semibold [&_[cmdk-group-heading]]:text-soft">
        {isNothing && <p className="px-2.5 py-3 text-sm text-soft">Nothing of that name.</p>}
        {(Object.keys(KINDS) as FinderHit['kind'][]).map((kind) => {
          const own = asked === '' ? [] : hits.filter((hit) => hit.kind === kind)
          const Icon = ICONS[kind]
          return (
            own.length > 0 && (
              <Command.Group key={kind} heading={KINDS[kind]}>
                {own.map((hit) => (
                  <Command.Item
                    key={hit.href}
                    value={hit.href}
                    onSelect={() => done(() => router.push(hit.href))}
                    className={row}
                  >
                    <Icon size={14} className="text-soft" />
                    <span className="truncate">{hit.title}</span>
                    <span className="ml-auto truncate pl-4 text-xs text-soft">{hit.detail}</span>
                  </Command.Item>
                ))}
              </Command.Group>
            )
          )
        })}
        {places.length > 0 && (
          <Command.Group heading="Go to">
            {places.map(({ name, path }) => (
              <Command.Item
                key={path}
                value={`go ${name}`}
                onSelect={() => done(() => router.push(path))}
                className={row}
              >
                {name}
              </Command.Item>
            ))}
          </Command.Group>
        )}
        {deeds.length > 0 && (
          <Command.Group heading="Do">
            {deeds.map(({ name, run }) => (
              <Command.Item key={name} value={`do ${name}`} onSelect={() => done(run)} className={row}>
                {name}
              </Command.Item>
            ))}
          </Command.Group>
        )}
      </Command.List>
    </Command.Dialog>
  )
}
