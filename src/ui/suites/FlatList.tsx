'use client'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef } from 'react'
import { describeDuration } from '@/core/model'
import { plural, type SuiteViewModel } from '@/core/view-models'

const ROW_PX = 34

/** What will run, numbered, in the order it will start; and what will not, with the reason. */
export function FlatList({ suite }: { suite: SuiteViewModel }) {
  const box = useRef<HTMLDivElement>(null)
  const { planned, leftOut } = suite
  const virtual = useVirtualizer({
    count: planned.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
  })
  return (
    <div ref={box} className="h-full overflow-auto" tabIndex={0} aria-label="What will run">
      <p className="border-b border-line px-4 py-2 text-sm">
        {plural(suite.caseRuns, 'case run')} an environment, about {describeDuration(suite.estimateMs)} on one
        seat.
      </p>
      <ol
        style={{ height: virtual.getTotalSize(), position: 'relative' }}
        aria-label="What will run, in order"
      >
        {virtual.getVirtualItems().map(({ index, start }) => {
          const { title, groups, row, estimateMs, after, values } = planned[index]!
          return (
            <li
              key={index}
              value={index + 1}
              style={{ position: 'absolute', top: start, left: 0, right: 0, height: ROW_PX }}
              className="flex items-center gap-2 border-b border-line/70 px-4 text-sm"
            >
              <span className="w-8 shrink-0 text-right text-xs text-soft">{index + 1}</span>
              <span
                className="min-w-0 flex-1 truncate"
                title={[
                  groups.join(' / '),
                  ...values.map(({ name, value, from }) => `${name} ${value}, from ${from}`),
                ]
                  .filter(Boolean)
                  .join('\n')}
              >
                {title}
                {row && <span className="text-soft">, {row}</span>}
                {after.length > 0 && <span className="text-xs text-soft"> after {after.join(', ')}</span>}
              </span>
              <span className="shrink-0 text-soft">{describeDuration(estimateMs)}</span>
            </li>
          )
        })}
      </ol>
      {leftOut.length > 0 && (
        <section aria-label="What will not run">
          <h3 className="label px-4 pt-3 pb-1">Will not run</h3>
          <ul>
            {leftOut.map(({ title, groups, why }, i) => (
              <li key={i} className="border-b border-line/70 px-4 py-1.5 text-sm">
                <span className="text-soft">
                  {groups.join(' / ')}
                  {groups.length > 0 && ' / '}
                </span>
                {title}
                <span className="block text-xs text-failed">{why}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}
