'use client'
import Link from '../base/Link'
import {
  parseAsArrayOf,
  parseAsInteger,
  parseAsString,
  parseAsStringLiteral,
  useQueryState,
  useQueryStates,
} from 'nuqs'
import { useMemo, useState } from 'react'
import { describeCountOf } from './words'
import { defectsThatFit, type DefectViewModel, type OutboxEntry } from '@/core/view-models'
import { useViewModel } from '../api'
import { Empty, TitleLine } from '../base/Parts'
import { inOrder, Table } from '../base/Table'
import { useShown } from '../base/useShown'
import { useKeys } from '../frame/keys'
import { SavedViews } from '../frame/SavedViews'
import { useFrame } from '../frame/tools'
import { Bulk } from './Bulk'
import { COLUMN_NAMES, columnsOf, USUAL_COLUMNS } from './columns'
import { DefectDetail } from './DefectDetail'
import { ColumnChoice, DefectFilters, TakeAlong } from './DefectFilters'

const text = parseAsString.withDefault('')
const LIST = {
  order: text,
  columns: parseAsArrayOf(parseAsStringLiteral(COLUMN_NAMES)).withDefault(USUAL_COLUMNS),
}
/** With more the list is wider than what is read of one. */
const NARROW_MOST = 2
const FILTER = { words: text, place: text, severity: text, build: text }

export function DefectsView({ initial }: { initial: DefectViewModel[] }) {
  const { data = initial } = useViewModel<DefectViewModel[]>('/api/defects', ['defects'], initial)
  const [id, setId] = useQueryState('id', parseAsInteger.withOptions({ history: 'replace' }))
  const [filter, setFilter] = useQueryStates(FILTER, { history: 'replace' })
  const [{ order, columns: chosen }, setList] = useQueryStates(LIST, { history: 'replace' })
  const { may } = useFrame()
  const mayMark = may('tester')
  const [marks, setMarks] = useState<ReadonlySet<number>>(new Set())
  const columns = useMemo(
    () =>
      columnsOf(chosen, {
        onChoose: (next) => void setId(next),
        marks: mayMark
          ? { has: (one) => marks.has(one), toggle: (one) => setMarks((now) => toggled(now, one)) }
          : undefined,
      }),
    [chosen, marks, mayMark, setId],
  )
  const shown = useMemo(
    () => inOrder(defectsThatFit(data, filter), columns, order),
    [data, filter, columns, order],
  )
  const marked = shown.filter((one) => marks.has(one.id))
  const selected = useShown(JSON.stringify([filter, order]), shown, idOf, id === null ? null : String(id))
  const step = (by: number) => {
    const next = shown[shown.findIndex((defect) => defect.id === selected?.id) + by]
    if (next) void setId(next.id)
  }
  useKeys([
    { key: 'j', what: 'the next defect', run: () => step(1) },
    { key: 'k', what: 'the one before', run: () => step(-1) },
    {
      key: 'x',
      what: 'mark it, or not any more',
      off: !selected || !mayMark,
      run: () => setMarks((now) => toggled(now, selected!.id)),
    },
    {
      key: 'a',
      what: 'mark all that are shown',
      off: shown.length === 0 || !mayMark,
      run: () => setMarks(new Set(shown.map((one) => one.id))),
    },
  ])
  return (
    <>
      <TitleLine title="Defects" facts={describeCountOf(shown)}>
        {data.length > 0 && (
          <>
            <Waiting />
            <SavedViews page="defects" leftOut={['id']} />
            <ColumnChoice chosen={chosen} onChange={(next) => void setList({ columns: next })} />
            <TakeAlong filter={filter} />
          </>
        )}
      </TitleLine>
      {data.length === 0 ? (
        <Empty title="No defects yet">
          A defect is drafted from a failure: open a failed case, press d, read the draft, log it. It gets its
          number from the tracker.
        </Empty>
      ) : (
        <div className={`grid min-h-0 flex-1 ${WIDTHS[chosen.length > NARROW_MOST ? 'wide' : 'usual']}`}>
          <div className="overflow-auto border-r border-line bg-surface">
            <DefectFilters defects={data} filter={filter} onChange={(change) => void setFilter(change)} />
            {marked.length > 0 && <Bulk marked={marked} onClear={() => setMarks(new Set())} />}
            {!selected && <p className="px-[18px] py-4 text-soft">No defect is like that.</p>}
            <Table
              label="Defects"
              rows={shown}
              columns={columns}
              order={order}
              onOrder={(next) => void setList({ order: next === '' ? null : next })}
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

/** Where what cannot be delivered is seen. */
function Waiting() {
  const { data = [] } = useViewModel<OutboxEntry[]>('/api/outbox', ['defects'])
  return (
    <Link href="/defects/outbox" className="text-sm whitespace-nowrap text-soft underline">
      Outbox{data.length > 0 && `: ${data.length}`}
    </Link>
  )
}

const WIDTHS = { usual: 'grid-cols-[minmax(440px,46%)_1fr]', wide: 'grid-cols-[minmax(560px,64%)_1fr]' }

const idOf = ({ id }: { id: number }) => String(id)

const toggled = (now: ReadonlySet<number>, id: number): ReadonlySet<number> =>
  now.has(id) ? new Set([...now].filter((one) => one !== id)) : new Set([...now, id])
