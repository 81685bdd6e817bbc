'use client'
import { addDays } from 'date-fns'
import { ChevronLeft, ChevronRight } from 'lucide-react'
import dynamic from 'next/dynamic'
import { parseAsString, parseAsStringLiteral, useQueryStates } from 'nuqs'
import { useMemo, useState } from 'react'
import type { RotaOccurrence, RotaViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { Button } from '../base/Button'
import { Empty, Problem, TitleLine } from '../base/Parts'
import { clock, useNow } from '../base/Time'
import { TabList, TabPanel, Tabs } from '../base/Tabs'
import { useFrame } from '../frame/tools'
import { useKeys } from '../frame/keys'
import { ClashList } from './ClashList'
import type { Asked } from './MoveDialog'
import { RotaList } from './RotaList'
import { StartCard } from './StartCard'
import { Timeline } from './Timeline'
import { dayKey, SPAN_WORDS, SPANS, spanOf, spanWords } from './span'
import { momentWords, rotaFacts } from './words'
import { useRotaChange } from './useRota'

const MoveDialog = dynamic(() => import('./MoveDialog').then((module) => module.MoveDialog), { ssr: false })
const NewRotation = dynamic(() => import('./NewRotation').then((module) => module.NewRotation), {
  ssr: false,
})
const Subscribe = dynamic(() => import('./Subscribe').then((module) => module.Subscribe), { ssr: false })

/** All that is planned to start: by day, week, four weeks, or as a list. */
export function RotaView() {
  const now = useNow()
  return now ? (
    <Rota now={now} />
  ) : (
    <div className="m-6 h-[420px] animate-pulse rounded bg-line/40" aria-busy="true" />
  )
}

function Rota({ now }: { now: Date }) {
  const [at, setAt] = useQueryStates(
    { view: parseAsStringLiteral(SPANS).withDefault('week'), day: parseAsString, start: parseAsString },
    { history: 'push' },
  )
  const { may } = useFrame()
  const day = at.day ?? dayKey(now)
  const span = useMemo(() => spanOf(at.view, new Date(`${day}T12:00:00`)), [at.view, day])
  const { data, error } = useViewModel<RotaViewModel>(
    `/api/rota?from=${span.from.toISOString()}&to=${span.to.toISOString()}`,
    ['rota', 'definitions', 'run', 'fleet'],
  )
  const [asked, setAsked] = useState<Asked>()
  const [making, setMaking] = useState(false)
  const [subscribing, setSubscribing] = useState(false)
  const change = useRotaChange()
  const editable = may('coordinator')
  const go = (by: number) => void setAt({ day: dayKey(addDays(span.from, by * span.days)), start: null })
  useKeys([
    { key: '[', what: 'earlier', run: () => go(-1) },
    { key: ']', what: 'later', run: () => go(1) },
    { key: 't', what: 'to today', run: () => void setAt({ day: null }) },
    ...SPANS.map((name, i) => ({
      key: String(i + 1),
      what: `the rota as ${SPAN_WORDS[name].toLowerCase()}`,
      run: () => void setAt({ view: name }),
    })),
    { key: 'n', what: 'a new rotation', off: !may('tester'), run: () => setMaking(true) },
  ])
  const chosen = data?.occurrences.find(({ id }) => id === at.start)
  const drop = (occurrence: RotaOccurrence, to: Date) => setAsked({ occurrence, to: to.toISOString() })
  const move = async ({ occurrence, to }: Asked, series: boolean) => {
    setAsked(undefined)
    const done = await change(
      occurrence.rotation,
      { move: { at: occurrence.at, to, series } },
      `${occurrence.title} ${series ? 'starts' : 'starts this once'} ` +
        `${series ? `at ${clock(to)} from now on` : momentWords(to, now)}`,
    )
    if (done && !series) void setAt({ start: `${occurrence.rotation}@${to}` })
  }
  return (
    <Tabs value={at.view} onChange={(view) => void setAt({ view })}>
      <TitleLine
        title="Rota"
        facts={
          data && (
            <>
              <span suppressHydrationWarning>
                {spanWords(span)}, {Intl.DateTimeFormat().resolvedOptions().timeZone}
              </span>
              ; {rotaFacts(data)}
            </>
          )
        }
      >
        <span className="flex items-center">
          <Button look="quiet" className="!px-1" aria-label="Earlier" onClick={() => go(-1)}>
            <ChevronLeft size={16} aria-hidden />
          </Button>
          <Button look="quiet" className="!px-2" onClick={() => void setAt({ day: null })}>
            Today
          </Button>
          <Button look="quiet" className="!px-1" aria-label="Later" onClick={() => go(1)}>
            <ChevronRight size={16} aria-hidden />
          </Button>
        </span>
        <TabList label="The rota as" tabs={SPANS.map((key) => ({ key, label: SPAN_WORDS[key] }))} />
        <Button onClick={() => setSubscribing(true)}>iCalendar</Button>
        {may('tester') && (
          <Button look="main" onClick={() => setMaking(true)}>
            New rotation
          </Button>
        )}
      </TitleLine>
      <TabPanel value={at.view} className="flex min-h-0 flex-1 flex-col">
        {error && !data && (
          <div className="p-4">
            <Problem>{error.message}</Problem>
          </div>
        )}
        {!error && !data && (
          <div className="m-6 h-[420px] animate-pulse rounded bg-line/40" aria-busy="true" />
        )}
        {data && data.rotations.length === 0 && (
          <Empty
            title="No rotations yet"
            action={
              may('tester') && (
                <Button look="main" onClick={() => setMaking(true)}>
                  Make the first one
                </Button>
              )
            }
          >
            A rotation is a saved plan: what runs where, how, what if it fails, and when. Here you see all
            their starts, how long they are likely to take, and where they get in each other’s way.
          </Empty>
        )}
        {data && data.rotations.length > 0 && (
          <div className="flex min-h-0 flex-1 flex-col">
            <div
              className="min-h-0 flex-1 overflow-auto bg-surface"
              role="region"
              aria-label={SPAN_WORDS[at.view]}
              tabIndex={0}
            >
              {at.view === 'list' ? (
                <RotaList viewModel={data} now={now} />
              ) : (
                <Timeline
                  viewModel={data}
                  span={span}
                  now={now}
                  selected={at.start}
                  editable={editable}
                  onSelect={(id) => void setAt({ start: id === at.start ? null : id })}
                  onDrag={drop}
                />
              )}
            </div>
            {chosen && at.view !== 'list' && (
              <StartCard
                key={chosen.id}
                occurrence={chosen}
                rotation={data.rotations.find(({ key }) => key === chosen.rotation)!}
                now={now}
                editable={editable}
                onMove={(to) => setAsked({ occurrence: chosen, to })}
                onClose={() => void setAt({ start: null })}
              />
            )}
            <ClashList
              viewModel={data}
              now={now}
              editable={editable}
              onShow={(id) => void setAt({ start: id })}
            />
          </div>
        )}
      </TabPanel>
      {asked && (
        <MoveDialog
          asked={asked}
          now={now}
          onMove={(series) => void move(asked, series)}
          onClose={() => setAsked(undefined)}
        />
      )}
      {making && <NewRotation onClose={() => setMaking(false)} />}
      {subscribing && <Subscribe onClose={() => setSubscribing(false)} />}
    </Tabs>
  )
}
