'use client'
import { parseAsString, useQueryState } from 'nuqs'
import { COVERAGES, COVERAGE_WORDS } from '@/core/requirements'
import { plural, type ReleaseViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { Empty, TitleLine } from '../base/Parts'
import { Select } from '../base/fields'
import { BringList } from './BringList'
import { RequirementTable } from './RequirementTable'
import { Sheet } from './Sheet'
import { SignSheet, SignedSheets } from './SignSheet'

/** Whether a build can go out: the sentences, the requirements, and who signed. */
export function ReleaseView({ initial }: { initial: ReleaseViewModel }) {
  const [asked, setAsked] = useQueryState('build', parseAsString.withOptions({ history: 'replace' }))
  const build = asked ?? initial.build
  const path = `/api/releases${build === null ? '' : `?build=${encodeURIComponent(build)}`}`
  const { data = initial } = useViewModel<ReleaseViewModel>(
    path,
    ['run', 'release', 'defects', 'triage', 'definitions', 'recovery', 'settings'],
    build === initial.build ? initial : undefined,
  )
  const { sheet } = data
  return (
    <>
      <TitleLine title="Release" facts={factsOf(data)}>
        {data.build !== null && <span className="hidden text-sm print:inline">Build {data.build}</span>}
        <span className="contents print:hidden">
          {data.builds.length > 0 && (
            <label className="flex items-center gap-2 text-sm text-soft">
              Build
              <Select
                width="w-[150px]"
                value={data.build ?? ''}
                choices={data.builds.map((one) => ({ value: one, label: one }))}
                onChange={({ target }) => void setAsked(target.value)}
              />
            </label>
          )}
          <BringList hasSome={data.requirements.length > 0} />
        </span>
      </TitleLine>
      {sheet ? (
        <div className="grid min-h-0 flex-1 grid-cols-[minmax(360px,40%)_1fr] print:block">
          <section
            aria-label="Sheet"
            className="overflow-auto border-r border-line px-[18px] py-4 print:overflow-visible print:border-0"
          >
            <Sheet sheet={sheet} />
            <SignSheet key={`${sheet.build}/${sheet.verdict}`} sheet={sheet} seen={data.seen} />
            <SignedSheets signed={data.signed} />
          </section>
          <RequirementTable data={data} />
        </div>
      ) : (
        <Empty title="No build yet">
          A release sheet is of a build. Builds are told in Settings, or by whoever makes them with a token of
          CI.
        </Empty>
      )}
    </>
  )
}

/** "20 requirements: 4 not met, 2 no case, …". */
function factsOf({ counts }: ReleaseViewModel): string {
  const all = COVERAGES.reduce((sum, one) => sum + counts[one], 0)
  if (all === 0) return ''
  const parts = COVERAGES.filter((one) => counts[one] > 0).map(
    (one) => `${counts[one]} ${COVERAGE_WORDS[one]}`,
  )
  return `${plural(all, 'requirement')}: ${parts.join(', ')}`
}
