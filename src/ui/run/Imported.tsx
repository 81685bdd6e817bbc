'use client'
import type { ImportedViewModel } from '@/core/view-models'
import { useViewModel } from '../api'

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
                className="max-h-64 overflow-auto rounded-oak border border-line bg-surface p-2 font-mono text-xs break-words whitespace-pre-wrap"
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
