'use client'
import { parseAsInteger, parseAsString, useQueryState, useQueryStates } from 'nuqs'
import { useMemo } from 'react'
import { describeCountOf } from './words'
import { defectsThatFit, type DefectViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { Empty, TitleLine } from '../base/Parts'
import { Table, type Column } from '../base/Table'
import { Ago } from '../base/Time'
import { useKeys } from '../frame/keys'
import { DefectDetail } from './DefectDetail'
import { DefectFilters, TakeAlong } from './DefectFilters'
import { TrackerState } from './TrackerState'

const text = parseAsString.withDefault('')
const FILTER = { words: text, place: text, severity: text, build: text }

export function DefectsView({ initial }: { initial: DefectViewModel[] }) {
  const { data = initial } = useViewModel<DefectViewModel[]>('/api/defects', ['defects'], initial)
  const [id, setId] = useQueryState('id', parseAsInteger.withOptions({ history: 'replace' }))
  const [filter, setFilter] = useQueryStates(FILTER, { history: 'replace' })
  const shown = useMemo(() => defectsThatFit(data, filter), [data, filter])
  const selected = shown.find((defect) => defect.id === id) ?? shown[0]
  const step = (by: number) => {
    const next = shown[shown.findIndex((defect) => defect.id === selected?.id) + by]
    if (next) void setId(next.id)
  }
  const columns = useMemo(() => columnsOf((next) => void setId(next)), [setId])
  useKeys([
    { key: 'j', what: 'the next defect', run: () => step(1) },
    { key: 'k', what: 'the one before', run: () => step(-1) },
  ])
  return (
    <>
      <TitleLine title="Defects" facts={describeCountOf(shown)}>
        {data.length > 0 && <TakeAlong filter={filter} />}
      </TitleLine>
      {data.length === 0 ? (
        <Empty title="No defects yet">
          A defect is drafted from a failure: open a failed case, press d, read the draft, log it. It gets its
          number from the tracker.
        </Empty>
      ) : (
        <div className="grid min-h-0 flex-1 grid-cols-[minmax(420px,46%)_1fr]">
          <div className="overflow-auto border-r border-line bg-surface">
            <DefectFilters defects={data} filter={filter} onChange={(change) => void setFilter(change)} />
            {!selected && <p className="px-[18px] py-4 text-soft">No defect is like that.</p>}
            <Table
              label="Defects"
              rows={shown}
              columns={columns}
              keyOf={(defect) => defect.id}
              isChosen={(defect) => defect.id === selected?.id}
              onChoose={(defect) => void setId(defect.id)}
              rowLook={(defect) =>
                `cursor-pointer ${defect.id === selected?.id ? 'bg-act-wash' : 'hover:bg-act-wash/60'}`
              }
            />
          </div>
          {selected && <DefectDetail key={`${selected.id}/${selected.version}`} defect={selected} />}
        </div>
      )}
    </>
  )
}

const columnsOf = (onChoose: (id: number) => void): Column<DefectViewModel>[] => [
  {
    head: 'Tracker',
    width: 'w-[120px] pl-[18px]',
    look: 'pl-[18px]',
    cell: (defect) => <TrackerState defect={defect} />,
  },
  {
    head: 'Defect',
    as: 'name',
    by: ({ title }) => title,
    cell: ({ id, title, severity, environment }) => (
      <>
        <button
          type="button"
          className="block text-left leading-[18px] font-medium"
          onClick={() => onChoose(id)}
        >
          {title}
        </button>
        <span className="block text-xs text-soft">
          {severity}, {environment}
        </span>
      </>
    ),
  },
  {
    head: 'Build',
    width: 'w-[84px]',
    look: 'font-mono text-xs text-soft',
    by: ({ build }) => build,
    cell: ({ build }) => build,
  },
  {
    head: 'Logged',
    width: 'w-[104px]',
    look: 'text-xs text-soft',
    by: ({ createdAt }) => createdAt,
    cell: ({ createdAt }) => <Ago at={createdAt} />,
  },
]
