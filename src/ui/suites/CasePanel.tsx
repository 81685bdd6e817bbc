'use client'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import type { CaseViewModel, CaseStep } from '@/core/view-models'
import { useViewModel } from '../api'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { Screen } from '../base/Screen'
import { LastMarks } from './LastMarks'

const FileProblems = dynamic(() => import('./FileProblems').then((module) => module.FileProblems), {
  ssr: false,
})

/** One case as readable steps, with the last good screen at each, its rows and its source. */
export function CasePanel({ caseKey }: { caseKey: string }) {
  const { data, error } = useViewModel<CaseViewModel>(`/api/cases/${caseKey}`, ['definitions'])
  const [asFile, setAsFile] = useState(false)
  if (error)
    return (
      <div className="p-4">
        <Problem>{error.message}</Problem>
      </div>
    )
  if (!data) return <div className="m-4 h-60 animate-pulse rounded bg-line/40" />
  return (
    <article aria-label={data.title}>
      <header className="border-b border-line px-4 py-3">
        <div className="flex flex-wrap items-start gap-2">
          <h2 className="flex-1 font-display text-[17px] leading-6">{data.title}</h2>
          {[...data.tags, ...data.requires].map((tag) => (
            <span key={tag} className="chip">
              {tag}
            </span>
          ))}
        </div>
        <p className="mt-0.5 text-sm text-soft">
          {data.entry ? (
            <>
              starts from <b className="font-semibold text-ink">{data.entry.replaceAll('-', ' ')}</b>
            </>
          ) : (
            'starts from a fresh browser'
          )}
          {data.uses.length > 0 && (
            <>
              , uses <b className="font-semibold text-ink">{data.uses.join(', ')}</b> alone
            </>
          )}
          {data.priority !== 'normal' && <>, {data.priority} priority</>}
        </p>
        <div className="mt-2 flex items-center gap-3">
          <LastMarks marks={data.last} title={data.title} />
          <span className="ml-auto truncate font-mono text-xs text-soft">{data.file}</span>
          <Button onClick={() => setAsFile(!asFile)} aria-pressed={asFile}>
            {asFile ? 'Steps' : 'YAML'}
          </Button>
        </div>
      </header>
      {data.problems.length > 0 && (
        <div className="border-b border-line bg-failed-wash px-4 py-2">
          <p className="text-sm font-semibold">
            Its file has {data.problems.length === 1 ? 'a problem' : 'problems'}; a broken one keeps its last
            good text, which is shown
          </p>
          <FileProblems problems={data.problems} label="Problems in its file" />
        </div>
      )}
      {asFile ? (
        <pre tabIndex={0} className="overflow-auto px-4 py-3 font-mono text-xs leading-[18px] whitespace-pre">
          {data.source}
        </pre>
      ) : (
        <>
          <ol>
            {data.steps.map((step) => (
              <StepLine key={step.path} step={step} />
            ))}
          </ol>
          {data.undo.length > 0 && (
            <>
              <h3 className="label px-4 pt-3 pb-1">Then undo, last first, whatever happened</h3>
              <ol>
                {data.undo.toReversed().map((step) => (
                  <StepLine key={step.path} step={step} />
                ))}
              </ol>
            </>
          )}
          {data.table && <Rows table={data.table} />}
        </>
      )}
    </article>
  )
}

function StepLine({ step }: { step: CaseStep }) {
  const { verb, object, detail } = step.words
  return (
    <li
      className={
        'flex min-h-[32px] items-center gap-2.5 border-b border-line/70 py-1 pr-3 ' +
        `${step.off ? 'opacity-50' : ''}`
      }
    >
      <span className="w-8 shrink-0 text-right text-xs text-soft">{step.number}</span>
      <span className="min-w-0 flex-1 text-sm" style={{ paddingLeft: step.depth * 18 }}>
        {verb && <b className="mr-1 font-semibold text-act">{verb}</b>}
        <span className={verb ? '' : 'font-semibold'}>{object}</span>{' '}
        {detail && <span className="font-mono text-xs break-words text-soft">{detail}</span>}
        {step.because && <span className="block text-xs text-soft italic">{step.because}</span>}
      </span>
      {step.screen && (
        <Screen
          hash={step.screen}
          alt=""
          className="h-[26px] w-[40px] shrink-0 rounded-[2px] border border-line"
        />
      )}
    </li>
  )
}

function Rows({ table }: { table: NonNullable<CaseViewModel['table']> }) {
  return (
    <section className="px-4 py-3">
      <h3 className="label mb-1">Rows · {table.file}</h3>
      <table className="text-sm">
        <thead>
          <tr className="text-left text-soft">
            <th className="pr-5 font-normal">row</th>
            {table.columns.map((column) => (
              <th key={column} className="pr-5 font-normal">
                {column}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row, i) => (
            <tr key={i}>
              <td className="text-soft">{i + 1}</td>
              {table.columns.map((column) => (
                <td key={column} className="pr-5 font-mono text-xs">
                  {row[column]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
