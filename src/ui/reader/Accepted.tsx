'use client'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import type { Box, ScreenCheck } from '@/core/execution'
import type { Region } from '@/core/vision'
import type { AcceptedChecks, AcceptedLine, AcceptedNow, AttemptViewModel } from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { EvidenceImage } from '../base/EvidenceImage'
import { Problem } from '../base/Parts'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/tools'
import { AcceptedSettings } from './AcceptedSettings'
import { Differs } from './Differs'

const RESULTS: Record<ScreenCheck['result'], string> = {
  same: 'It is as it was accepted',
  differs: 'It is not as it was accepted',
  proposed: 'Nothing was accepted yet; this is what there was to see',
}

/** A check of a screen beside what it was accepted to look like, and what to do about it. */
export function Accepted({
  attempt: { id: attemptId, caseKey, environment },
  path,
  check,
}: {
  attempt: Pick<AttemptViewModel, 'id' | 'caseKey' | 'environment'>
  path: string
  check: ScreenCheck
}) {
  const { may } = useFrame()
  const { problem, busy, ask } = useAsking()
  const client = useQueryClient()
  const asked = new URLSearchParams({ case: caseKey, name: check.name, environment: environment.key })
  const url = `/api/accepted-screens?${asked.toString()}`
  const { data: history = [] } = useViewModel<AcceptedLine[]>(url, [])
  const again = () => client.invalidateQueries({ queryKey: [url] })
  const now = { hash: check.hash, width: check.width, height: check.height, atMs: 0 }
  const accepted = history.find(({ hash }) => hash === check.accepted)
  const holds = history.find((line) => line.holds)
  const isAccepted = holds?.hash === check.hash
  const accept = (which: AcceptedChecks, region?: Box) =>
    ask(async () => {
      const body = { attemptId, path, which, ...(region && { region: boxOf(region) }) }
      const made = await api<AcceptedNow[]>('/api/accepted-screens', { method: 'POST', body })
      await again()
      tell(made, () => void undo(made).then(again, (fault: ApiProblem) => toast.error(fault.message)))
    })
  const change = (id: number, body: { ignore?: Box[]; most?: number }) =>
    ask(async () => {
      await api(`/api/accepted-screens/${id}`, { method: 'PUT', body })
      await again()
    })
  const mayAccept = may('tester') && !busy
  const actions = (region: Region) =>
    mayAccept && (
      <>
        <Button look="quiet" className="!h-6 !px-1.5" onClick={() => void accept('one', region)}>
          Accept this part
        </Button>
        {holds && (
          <Button
            look="quiet"
            className="!h-6 !px-1.5"
            onClick={() => void change(holds.id, { ignore: [...holds.ignore, boxOf(region)] })}
          >
            Do not look here
          </Button>
        )}
      </>
    )
  return (
    <div className="text-sm">
      <p className="mb-2">
        {RESULTS[check.result]}
        {check.from !== undefined && `. There is none of this environment; compared with ${check.from}`}
        {isAccepted && check.result !== 'same' && '. It is accepted by now'}.
      </p>
      {may('tester') && !isAccepted && (
        <div className="mb-3 flex flex-wrap gap-2">
          <Button look="main" disabled={busy} onClick={() => void accept('one')}>
            Accept
          </Button>
          <Button disabled={busy} onClick={() => void accept('alike')}>
            Accept all alike in this run
          </Button>
        </div>
      )}
      {check.accepted === undefined ? (
        <EvidenceImage
          hash={check.hash}
          alt={`The screen “${check.name}”`}
          className="max-h-[46vh] max-w-full border border-line"
        />
      ) : (
        <Differs
          then={{ ...now, hash: check.accepted, ...(accepted && sizeOf(accepted)) }}
          now={now}
          known={check}
          actions={check.result === 'differs' && !isAccepted ? actions : undefined}
        />
      )}
      {problem && <Problem>{problem}</Problem>}
      {holds && (
        <AcceptedSettings
          key={holds.id}
          line={holds}
          mayChange={mayAccept}
          onChange={(changed) => change(holds.id, changed)}
        />
      )}
      <History lines={history} onBack={mayAccept ? (id) => void change(id, {}) : undefined} />
    </div>
  )
}

const boxOf = ({ x, y, w, h }: Box): Box => ({ x, y, w, h })
const sizeOf = ({ width, height }: AcceptedLine) => ({ width, height })

/** Who accepted what, and when; each can hold again. */
function History({
  lines,
  onBack,
}: {
  lines: readonly AcceptedLine[]
  onBack: ((id: number) => void) | undefined
}) {
  const [isOpen, setOpen] = useState(false)
  if (lines.length === 0) return null
  return (
    <section aria-label="Accepted before" className="mt-3">
      <Button look="quiet" className="!h-6 !px-1.5" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {isOpen ? 'Hide who accepted what' : `Who accepted what (${lines.length})`}
      </Button>
      {isOpen && (
        <ol className="mt-1 space-y-1.5">
          {lines.map(({ id, hash, acceptedBy, acceptedAt, holds, ignore, most }) => (
            <li key={id} className="flex items-center gap-3">
              <EvidenceImage
                hash={hash}
                alt=""
                loading="lazy"
                className="h-9 w-14 border border-line object-cover"
              />
              <span className="min-w-0 flex-1">
                {acceptedBy}, <Ago at={acceptedAt} />
                {ignore.length > 0 && `, ${ignore.length} left out`}
                {most > 0 && `, ${percentOf(most)} % may differ`}
              </span>
              {holds && <span className="text-xs text-soft">holds</span>}
              {!holds && onBack && (
                <Button look="quiet" className="!h-6 !px-1.5" onClick={() => onBack(id)}>
                  Hold to this again
                </Button>
              )}
            </li>
          ))}
        </ol>
      )}
    </section>
  )
}

export const percentOf = (share: number) => Number((share * 100).toFixed(2))

function tell(made: readonly AcceptedNow[], onUndo: () => void): void {
  const where = made.length === 1 ? made[0]!.environment : `${made.length} checks`
  toast(`Accepted for ${where}: the next attempt compares with it`, {
    action: { label: 'Undo', onClick: onUndo },
  })
}

/** What held before holds again; where nothing did, nothing does. */
async function undo(made: readonly AcceptedNow[]): Promise<void> {
  for (const { id, before } of made)
    await api(
      `/api/accepted-screens/${before ?? id}`,
      before === null ? { method: 'DELETE' } : { method: 'PUT', body: {} },
    )
}
