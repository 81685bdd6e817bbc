'use client'
import { describeDuration } from '@/core/model'
import { plural, type ImportedViewModel, type RunViewModel } from '@/core/view-models'
import { useViewModel } from '../api'

const SUITES_SHOWN = 50

/** What a result file says of its suites: their times, properties, and what they announce. */
export function ResultSuites({ suites }: { suites: NonNullable<RunViewModel['resultSuites']> }) {
  if (suites.length === 0) return null
  return (
    <section aria-label="Suites of the result file" className="mt-5 text-ink">
      <h2 className="label mb-1">Suites of the result file</h2>
      <ul className="divide-y divide-line">
        {suites.slice(0, SUITES_SHOWN).map(({ path, line, cases, ms, announced, properties }) => (
          <li key={`${line} ${path.join('/')}`} className="py-1.5">
            <div className="break-words">{path.join(' / ') || 'without a name'}</div>
            <div className="text-xs text-soft">
              {plural(cases, 'case')}
              {announced.tests !== undefined &&
                announced.tests !== cases &&
                ` of ${announced.tests} announced`}
              , {describeDuration(ms)}, line {line}
            </div>
            {Object.entries(properties).map(([name, value]) => (
              <div key={name} className="text-xs break-all">
                <span className="text-soft">{name}</span> <span className="font-mono">{value}</span>
              </div>
            ))}
          </li>
        ))}
      </ul>
      {suites.length > SUITES_SHOWN && (
        <p className="text-xs text-soft">and {plural(suites.length - SUITES_SHOWN, 'suite')} more</p>
      )}
    </section>
  )
}

/** What a result file said of one case, beyond its outcome. Attachments stay where they are: their paths are
 * shown, not opened. */
export function Imported({ caseRun }: { caseRun: string }) {
  const { data } = useViewModel<ImportedViewModel>(`/api/case-runs/${caseRun}`, [])
  if (!data) return null
  const texts = [
    ['Details', data.detail],
    ['Output', data.output],
    ['Error output', data.errorOutput],
  ] as const
  const facts = [data.className, data.file, data.type, `line ${data.line} of the result file`]
    .filter(Boolean)
    .join(', ')
  return (
    <section aria-label="From the result file" className="mt-3 flex flex-col gap-2 text-sm">
      <p className="text-soft">{facts}</p>
      {texts.map(
        ([title, text]) =>
          text && (
            <details key={title} open={title === 'Details'}>
              <summary className="label">{title}</summary>
              <pre
                tabIndex={0}
                className={
                  'max-h-64 overflow-auto rounded-oak border border-line bg-surface p-2 font-mono ' +
                  'text-xs break-words whitespace-pre-wrap'
                }
              >
                {text}
              </pre>
            </details>
          ),
      )}
      {Object.keys(data.properties).length > 0 && (
        <dl className="grid grid-cols-[auto_1fr] gap-x-3">
          {Object.entries(data.properties).map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-soft">{name}</dt>
              <dd className="font-mono text-xs break-all">{value}</dd>
            </div>
          ))}
        </dl>
      )}
      {data.attachments.length > 0 && (
        <p className="text-soft">
          Attached:{' '}
          {data.attachments.map((path) => (
            <code key={path} className="mr-2 font-mono text-xs break-all text-ink">
              {path}
            </code>
          ))}
        </p>
      )}
    </section>
  )
}
