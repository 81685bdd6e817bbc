'use client'
import Link from '../base/Link'
import { parseAsString, useQueryState } from 'nuqs'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import { describeDuration } from '@/core/model'
import { plural, type GuidedListViewModel, type GuidedWork } from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'
import { buttonLook } from '../base/Button'
import { Empty, TitleLine } from '../base/Parts'
import { Select } from '../base/fields'
import { Table, type Column } from '../base/Table'
import { useFrame } from '../frame/tools'

const ALL = 'all'
const NOBODY = 'nobody'

/** What waits for people: their own first, others' and nobody's a choice away; given to others from here. */
export function GuidedList({ list: initial }: { list: GuidedListViewModel }) {
  const { person, may } = useFrame()
  const { data } = useViewModel<GuidedListViewModel>('/api/guided', ['run', 'settings'], initial)
  const { work, people, more } = data ?? initial
  const [whose, setWhose] = useQueryState('whose', parseAsString.withDefault(person.name))
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const shown = work.filter((one) => whose === ALL || (one.person || NOBODY) === whose)
  const picked = shown.filter(({ id }) => chosen.has(id))
  const columns = useMemo(() => columnsOf(may('tester'), chosen, setChosen), [may, chosen])
  const next = shown.find(({ ready }) => ready)
  const give = async (to: string) => {
    try {
      const body = { caseRuns: picked.map(({ id }) => id), person: to === NOBODY ? '' : to }
      await api('/api/guided/assign', { method: 'POST', body })
      setChosen(new Set())
      toast(`${plural(picked.length, 'case')} ${to === NOBODY ? 'back for anybody' : `for ${to}`}`)
    } catch (error) {
      toast.error((error as ApiProblem).message)
    }
  }
  return (
    <>
      <TitleLine title="By hand" facts={factsOf(shown)}>
        <Select
          aria-label="Whose"
          width="w-48"
          value={whose}
          onChoose={(value) => void setWhose(value)}
          choices={[
            ...people.map((name) => ({ value: name, label: name === person.name ? `${name} (you)` : name })),
            { value: NOBODY, label: 'nobody’s yet' },
            { value: ALL, label: 'everybody’s' },
          ]}
        />
        {picked.length > 0 && (
          <Select
            aria-label={`Give ${picked.length} to`}
            width="w-52"
            value=""
            onChoose={(to) => void give(to)}
            choices={[...people.map((name) => ({ value: name })), { value: NOBODY, label: 'nobody' }]}
          >
            <option value="">Give {plural(picked.length, 'case')} to…</option>
          </Select>
        )}
        {next && may('tester') && (
          <Link className={buttonLook('main')} href={`/guided/${next.id}`}>
            {next.judged > 0 ? 'Go on' : 'Begin'}
          </Link>
        )}
      </TitleLine>
      {shown.length === 0 ? (
        <Empty title="Nothing waits here">
          {work.length === 0
            ? 'No guided run is open. Start a run, done by people: each of its cases is a list of steps ' +
              'to judge.'
            : 'Nothing of what is open is theirs. Look at everybody’s.'}
        </Empty>
      ) : (
        <div className="min-h-0 flex-1 overflow-auto px-[18px] py-3">
          <Table label="Cases by hand" rows={shown} columns={columns} keyOf={({ id }) => id} />
          {more && <p className="mt-2 text-sm text-soft">There are more: these are the first of them.</p>}
        </div>
      )}
    </>
  )
}

function factsOf(shown: readonly GuidedWork[]): string {
  if (shown.length === 0) return ''
  const left = shown.reduce((sum, { estimateMs, workedMs }) => sum + Math.max(0, estimateMs - workedMs), 0)
  return `${plural(shown.length, 'case')}, about ${describeDuration(left)} by a rough guess`
}

const columnsOf = (
  mayGive: boolean,
  chosen: ReadonlySet<string>,
  choose: (ids: ReadonlySet<string>) => void,
): Column<GuidedWork>[] => [
  ...(mayGive
    ? [
        {
          head: 'Chosen',
          as: 'do' as const,
          cell: ({ id, title }: GuidedWork) => (
            <input
              type="checkbox"
              aria-label={`Choose ${title}`}
              className="mr-2.5 align-[-2px] accent-[var(--act)]"
              checked={chosen.has(id)}
              onChange={() =>
                choose(new Set(chosen.has(id) ? [...chosen].filter((one) => one !== id) : [...chosen, id]))
              }
            />
          ),
        },
      ]
    : []),
  {
    head: 'Case',
    as: 'name',
    by: ({ title }) => title,
    cell: ({ id, title, row }) => (
      <Link className="font-semibold hover:underline" href={`/guided/${id}`}>
        {title}
        {row && (
          <span className="font-normal text-soft">
            {' '}
            row {row.index} of {row.of}
          </span>
        )}
      </Link>
    ),
  },
  { head: 'Environment', by: ({ environment }) => environment, cell: ({ environment }) => environment },
  {
    head: 'Run',
    by: ({ runId }) => runId,
    cell: ({ runId, runTitle }) => (
      <Link className="hover:underline" href={`/runs/${runId}`}>
        {runTitle} {runId}
      </Link>
    ),
  },
  { head: 'Build', by: ({ build }) => build, look: 'font-mono text-xs', cell: ({ build }) => build },
  { head: 'Whose', by: ({ person }) => person || null, cell: ({ person }) => person || 'nobody’s' },
  { head: 'So far', by: ({ judged }) => judged, look: 'text-soft', cell: soFar },
  {
    head: 'About',
    by: ({ estimateMs }) => estimateMs,
    look: 'text-soft',
    cell: ({ estimateMs }) => describeDuration(estimateMs),
  },
]

function soFar({ judged, workedMs, ready }: GuidedWork): string {
  if (!ready) return 'waits for another case'
  return judged === 0 ? '–' : `${plural(judged, 'step')}, ${describeDuration(workedMs)}`
}
