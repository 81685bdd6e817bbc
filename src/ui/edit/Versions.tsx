'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import type { VersionViewModel } from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/tools'
import { TwoTexts } from './TwoTexts'
import type { Draft } from './useDraft'

const HOW: Record<VersionViewModel['how'], string> = {
  made: 'made',
  edited: 'saved',
  read: 'read',
  restored: 'restored',
  moved: 'moved',
  removed: 'removed',
}

const SHOW = { newest: 'Its text', older: 'What differs from now' }

/** Who saved what and when, each one readable, comparable and restorable. */
export function Versions({ draft }: { draft: Draft }) {
  const path = `/api/definitions/${draft.kind}/${draft.key}/versions`
  const { data } = useViewModel<VersionViewModel[]>(path, ['definitions'])
  const [open, setOpen] = useState<number>()
  const { may } = useFrame()
  const restore = (number: number) =>
    void api<{ version: number }>(`${path}/${number}/restore`, { method: 'POST' }).then(
      ({ version }) => toast(`Version ${number} is back, as version ${version}`),
      (problem: ApiProblem) => toast.error(problem.message),
    )
  if (!data) return <div className="m-4 h-40 animate-pulse rounded bg-line/40" />
  return (
    <ol aria-label="Versions" className="divide-y divide-line">
      {data.map(({ number, at, who, how, changes }, i) => (
        <li key={number} className="px-4 py-2.5 text-sm">
          <div className="flex items-baseline gap-2">
            <b className="font-semibold">Version {number}</b>
            <span className="text-soft">
              {HOW[how]} by {who}, <Ago at={at} />
            </span>
          </div>
          <ul className="mt-1 list-disc pl-5 text-soft">
            {changes.map((change, j) => (
              <li key={j}>{change}</li>
            ))}
          </ul>
          <div className="mt-1.5 flex gap-2">
            <Button
              look="quiet"
              className="!h-6 !px-2"
              aria-expanded={open === number}
              onClick={() => setOpen(open === number ? undefined : number)}
            >
              {open === number ? 'Hide the text' : SHOW[i === 0 ? 'newest' : 'older']}
            </Button>
            {i > 0 && may('tester') && (
              <Button
                look="quiet"
                className="!h-6 !px-2"
                disabled={draft.dirty}
                hint={draft.dirty ? 'Save or discard your edits first' : undefined}
                onClick={() => restore(number)}
              >
                Restore version {number}
              </Button>
            )}
          </div>
          {open === number && (
            <VersionText
              path={`${path}/${number}`}
              now={draft.viewModel!.source}
              name={`version ${number}`}
            />
          )}
        </li>
      ))}
    </ol>
  )
}

function VersionText({ path, now, name }: { path: string; now: string; name: string }) {
  const { data } = useViewModel<{ source: string }>(path, [])
  return data ? (
    <div className="mt-2">
      <TwoTexts mine={now} theirs={data.source} theirName={name} myName="now" />
    </div>
  ) : null
}
