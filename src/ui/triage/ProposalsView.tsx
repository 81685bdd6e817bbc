'use client'
import Link from '../base/Link'
import type { ReliabilityViewModel } from '@/core/view-models'
import { Empty, TitleLine } from '../base/Parts'
import { Ago } from '../base/Time'
import { CAUSE_WORDS } from './decision-words'
import { Figure, FigureTable, percent } from './FigureTable'

/** How right the proposed causes were, by cause, and by how sure they said they were. */
export function ProposalsView({ found }: { found: ReliabilityViewModel }) {
  const { of, right, byCause, bands, since } = found
  return (
    <>
      <TitleLine
        title="How right the proposals were"
        facts={of > 0 && `the first one right in ${right} of ${of} decisions, ${percent(right, of)}`}
      >
        <Link className="text-sm underline" href="/triage">
          Back to Triage
        </Link>
      </TitleLine>
      {of === 0 && (
        <Empty title="Nothing was decided yet">
          With each decision it is kept what was proposed. Once some are there, this page tells how often the
          proposals were right. They never decide.
        </Empty>
      )}
      {of > 0 && (
        <div className="grid min-h-0 max-w-[1080px] flex-1 grid-cols-2 content-start gap-8 overflow-auto px-[18px] py-4">
          <section aria-label="By cause">
            <h2 className="label mb-1">By cause</h2>
            <FigureTable head={['', 'Proposed first', 'It was that', 'Share', 'Decided']}>
              {byCause
                .filter(({ proposed, decided }) => proposed + decided > 0)
                .map((one) => (
                  <tr key={one.cause} className="border-t border-line">
                    <th scope="row" className="py-1.5 pr-3 text-left font-normal first-letter:uppercase">
                      {CAUSE_WORDS[one.cause]}
                    </th>
                    <Figure>{one.proposed}</Figure>
                    <Figure>{one.right}</Figure>
                    <Figure>{percent(one.right, one.proposed)}</Figure>
                    <Figure>{one.decided}</Figure>
                  </tr>
                ))}
            </FigureTable>
          </section>
          <section aria-label="By how sure they were">
            <h2 className="label mb-1">By how sure they were</h2>
            <FigureTable head={['They said', 'Decisions', 'Said on average', 'Right', 'Share']}>
              {bands.map((band) => (
                <tr key={band.from} className="border-t border-line">
                  <th scope="row" className="py-1.5 pr-3 text-left font-normal">
                    {band.from * 100} to {band.to * 100} %
                  </th>
                  <Figure>{band.of}</Figure>
                  <Figure>{band.meanLikelihood === null ? '' : percent(band.meanLikelihood, 1)}</Figure>
                  <Figure>{band.right}</Figure>
                  <Figure>{percent(band.right, band.of)}</Figure>
                </tr>
              ))}
            </FigureTable>
            <p className="mt-2 text-sm text-soft">
              Proposals that know what they say are right as often as they say.
            </p>
          </section>
          <p className="col-span-2 text-sm text-soft">
            Of the decisions that hold, with what was proposed when they were made
            {since && (
              <>
                {' '}
                (the oldest <Ago at={since} />)
              </>
            )}
            . A known defect is one of the product; what was decided to be no failure had a wrong proposal.
            Proposals decide nothing.
          </p>
        </div>
      )}
    </>
  )
}
