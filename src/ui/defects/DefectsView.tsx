'use client'
import { parseAsInteger, useQueryState } from 'nuqs'
import { describeCountOf } from './words'
import type { DefectViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { Empty, TitleLine } from '../base/Parts'
import { Ago } from '../base/Time'
import { useKeys } from '../frame/keys'
import { DefectDetail } from './DefectDetail'
import { TrackerState } from './TrackerState'

export function DefectsView({ initial }: { initial: DefectViewModel[] }) {
  const { data = initial } = useViewModel<DefectViewModel[]>('/api/defects', ['defects'], initial)
  const [id, setId] = useQueryState('id', parseAsInteger.withOptions({ history: 'replace' }))
  const selected = data.find((defect) => defect.id === id) ?? data[0]
  const step = (by: number) => {
    const next = data[data.findIndex((defect) => defect.id === selected?.id) + by]
    if (next) void setId(next.id)
  }
  useKeys([
    { key: 'j', what: 'the next defect', run: () => step(1) },
    { key: 'k', what: 'the one before', run: () => step(-1) },
  ])
  return (
    <>
      <TitleLine title="Defects" facts={describeCountOf(data)} />
      {data.length === 0 || !selected ? (
        <Empty title="No defects yet">
          A defect is drafted from a failure: open a failed case, press d, read the draft, log it. It gets its
          number from the tracker.
        </Empty>
      ) : (
        <div className="grid min-h-0 flex-1 grid-cols-[minmax(420px,46%)_1fr]">
          <div className="overflow-auto border-r border-line bg-surface">
            <table className="w-full text-sm">
              <thead className="sticky top-0 bg-surface text-left text-xs text-soft">
                <tr className="border-b border-line">
                  <th className="w-[120px] px-[18px] py-2 font-normal">Tracker</th>
                  <th className="py-2 font-normal">Defect</th>
                  <th className="w-[84px] py-2 font-normal">Build</th>
                  <th className="w-[104px] py-2 pr-4 text-right font-normal">Logged</th>
                </tr>
              </thead>
              <tbody>
                {data.map((defect) => (
                  <tr
                    key={defect.id}
                    aria-selected={defect.id === selected.id}
                    onClick={() => void setId(defect.id)}
                    className={`cursor-pointer border-b border-line/70 align-top ${defect.id === selected.id ? 'bg-act-wash' : 'hover:bg-act-wash/60'}`}
                  >
                    <td className="px-[18px] py-2">
                      <TrackerState defect={defect} />
                    </td>
                    <td className="py-2 pr-3">
                      <button
                        type="button"
                        className="text-left leading-[18px] font-medium"
                        onClick={() => void setId(defect.id)}
                      >
                        {defect.title}
                      </button>
                      <span className="block text-xs text-soft">
                        {defect.severity}, {defect.environment}
                      </span>
                    </td>
                    <td className="py-2 font-mono text-xs text-soft">{defect.build}</td>
                    <td className="py-2 pr-4 text-right text-xs text-soft">
                      <Ago at={defect.createdAt} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <DefectDetail key={`${selected.id}/${selected.version}`} defect={selected} />
        </div>
      )}
    </>
  )
}
