'use client'
import Link from '../base/Link'
import { describeDuration } from '@/core/model'
import { MEASURED_WEEKS, plural, type MeasuresViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { Empty, TitleLine } from '../base/Parts'
import { Figure, FigureTable, percent } from './FigureTable'

/** How the work on failures goes: by week, and by rotation. One sheet when it is printed. */
export function MeasuresView({ found }: { found: MeasuresViewModel }) {
  const { weeks, rotations, proposals, titles } = found
  const decisions = weeks.reduce((sum, one) => sum + one.decisions, 0)
  const failures = weeks.reduce((sum, one) => sum + one.failures, 0)
  const isEmpty = failures + decisions + rotations.length === 0
  return (
    <>
      <TitleLine
        title="How the work goes"
        facts={`${plural(failures, 'failure')}, ${plural(decisions, 'decision')} in ${weeks.length} weeks`}
      >
        <nav aria-label="Weeks" className="flex gap-3 text-sm print:hidden">
          {MEASURED_WEEKS.map((one) => (
            <Link
              key={one}
              href={`/triage/measures?weeks=${one}`}
              aria-current={one === weeks.length ? 'page' : undefined}
              className="underline aria-[current=page]:font-semibold aria-[current=page]:no-underline"
            >
              {one} weeks
            </Link>
          ))}
        </nav>
        <span className="contents print:hidden">
          <Button onClick={() => window.print()}>Print</Button>
        </span>
        <Link className="text-sm underline print:hidden" href="/triage">
          Back to Triage
        </Link>
      </TitleLine>
      {isEmpty ? (
        <Empty title="Nothing happened in these weeks">
          Once runs have ended and causes are decided, this page tells week by week how soon, how many at
          once, and what each rotation found for what it took.
        </Empty>
      ) : (
        <div className="flex min-h-0 max-w-[1080px] flex-1 flex-col gap-6 overflow-auto px-[18px] py-4 print:overflow-visible">
          <Weeks weeks={weeks} />
          {rotations.length > 0 && <Rotations rotations={rotations} titles={titles} />}
          <p className="text-sm text-soft">
            {proposals.of > 0 &&
              `The cause proposed first was right in ${proposals.right} of ` +
                `${plural(proposals.of, 'decision')}, ${percent(proposals.right, proposals.of)}. `}
            Decisions that were taken back are not counted, nor runs that were to find out or to confirm.
          </p>
        </div>
      )}
    </>
  )
}

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' })

function Weeks({ weeks }: Pick<MeasuresViewModel, 'weeks'>) {
  const most = Math.max(1, ...weeks.map(({ failures }) => failures))
  return (
    <section aria-label="By week">
      <h2 className="label mb-1">By week</h2>
      <FigureTable
        head={[
          'From',
          'Failures',
          '',
          'Causes',
          'Failures a cause',
          'Decisions',
          'Together',
          'Decided after',
          'Defects',
          'Opened again',
        ]}
      >
        {weeks.map((week) => (
          <tr key={week.from} className="border-t border-line">
            <th scope="row" className="py-1.5 pr-3 text-left font-normal">
              {DAY.format(new Date(week.from))}
            </th>
            <Figure>{week.failures}</Figure>
            <td aria-hidden className="w-[150px] pl-3">
              <div className="h-2 bg-failed" style={{ width: `${(100 * week.failures) / most}%` }} />
            </td>
            <Figure>{week.causes}</Figure>
            <Figure>{week.causes === 0 ? '' : (week.failures / week.causes).toFixed(1)}</Figure>
            <Figure>{week.decisions}</Figure>
            <Figure>{percent(week.together, week.decisions)}</Figure>
            <Figure>{week.afterMs === null ? '' : describeDuration(week.afterMs)}</Figure>
            <Figure>{week.logged}</Figure>
            <Figure>{week.reopened}</Figure>
          </tr>
        ))}
      </FigureTable>
    </section>
  )
}

function Rotations({ rotations, titles }: Pick<MeasuresViewModel, 'rotations' | 'titles'>) {
  return (
    <section aria-label="By rotation">
      <h2 className="label mb-1">What each rotation found, and took</h2>
      <FigureTable
        head={['Rotation', 'Runs', 'Case runs', 'Failures', 'Causes', 'Of the product', 'Time of seats']}
      >
        {rotations.map((one) => (
          <tr key={one.rotation} className="border-t border-line">
            <th scope="row" className="py-1.5 pr-3 text-left font-normal">
              <Link className="underline" href={`/rotations/${encodeURIComponent(one.rotation)}`}>
                {titles[one.rotation] ?? one.rotation}
              </Link>
            </th>
            <Figure>{one.runs}</Figure>
            <Figure>{one.caseRuns}</Figure>
            <Figure>{one.failures}</Figure>
            <Figure>{one.causes}</Figure>
            <Figure>{one.defects}</Figure>
            <Figure>{describeDuration(one.seatMs)}</Figure>
          </tr>
        ))}
      </FigureTable>
    </section>
  )
}
