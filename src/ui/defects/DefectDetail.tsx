'use client'
import Link from '../base/Link'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { plural, type DefectViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { EvidenceImage } from '../base/EvidenceImage'
import { Button, buttonLook } from '../base/Button'
import { Problem } from '../base/Parts'
import { evidenceUrl } from '../base/evidence'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/tools'
import { AtTracker, type Proposed } from './AtTracker'
import { Confirm } from './Confirm'
import { DefectFields, type DefectForm } from './DefectFields'

const EVIDENCE_TITLES = {
  'screen-before': 'Screen before the step',
  'screen-after': 'Screen at the failure',
  'screen-marked': 'Marked screen',
  video: 'Video of the attempt',
  'page-source': 'Source of the page',
  display: 'The whole display at the failure',
} as const

/** One defect: its words, its evidence, and where it stands with the tracker. */
export function DefectDetail({ defect }: { defect: DefectViewModel }) {
  const { may } = useFrame()
  const [editing, setEditing] = useState(false)
  const [proposed, setProposed] = useState<Proposed>()
  const isAtTracker = defect.state === 'sent' && defect.trackerNumber !== null
  const send = async () => {
    try {
      await api(`/api/defects/${defect.id}/send`, { method: 'POST', body: {} })
    } catch (error) {
      toast.error((error as ApiProblem).message)
    }
  }
  return (
    <article aria-label={defect.title} className="min-h-0 overflow-auto px-[18px] py-4">
      {editing ? (
        <Edit defect={defect} onDone={() => setEditing(false)} />
      ) : (
        <>
          <div className="flex items-start gap-3">
            <h2 className="flex-1 font-display text-[19px] leading-[26px]">{defect.title}</h2>
            {defect.state === 'draft' && may('tester') && (
              <>
                <Button onClick={() => setEditing(true)}>Edit</Button>
                <Button look="main" onClick={() => void send()}>
                  {defect.mailTo === null ? 'Send to the tracker' : 'Send it'}
                </Button>
              </>
            )}
            {defect.state === 'to-send' && may('tester') && (
              <Button onClick={() => void send()}>Send now</Button>
            )}
          </div>
          <p className="mt-1 text-sm text-soft">
            {defect.severity} · {defect.environment} · build {defect.build} · logged by {defect.createdBy}{' '}
            <Ago at={defect.createdAt} />
          </p>
          <div
            aria-live="polite"
            className="mt-3 rounded-oak border border-line bg-surface px-3.5 py-2.5 text-sm"
          >
            <Standing defect={defect} />
          </div>
          {defect.caseRunId === null ? (
            <Confirm defect={defect} onTell={isAtTracker ? setProposed : undefined} />
          ) : (
            <p className="mt-3 text-sm text-soft">
              It was told by a result file: the next one says whether it is mended.
            </p>
          )}
          <Words title="Steps to reproduce" text={defect.steps} mono />
          <div className="grid grid-cols-2 gap-4">
            <Words title="Expected" text={defect.expected} />
            <Words title="Actual" text={defect.actual} />
          </div>
          {defect.occurs !== '' && <Words title="Where and since when" text={defect.occurs} />}
          <Evidence defect={defect} />
          {isAtTracker && (
            <AtTracker
              key={proposed?.text ?? ''}
              defect={defect}
              proposed={proposed}
              onSaid={() => setProposed(undefined)}
            />
          )}
          <div className="mt-4 flex gap-2">
            {defect.attemptId && (
              <Link href={`/attempts/${defect.attemptId}`} className={buttonLook()}>
                Read the attempt
              </Link>
            )}
            {defect.caseRunId && (
              <Link href={`/runs/${defect.runId}?cell=${defect.caseRunId}`} className={buttonLook()}>
                Read the result
              </Link>
            )}
            <Link href={`/runs/${defect.runId}`} className={buttonLook()}>
              The run
            </Link>
            {!defect.caseRunId && (
              <Link href={`/suites?case=${defect.caseKey}`} className={buttonLook()}>
                The case
              </Link>
            )}
          </div>
        </>
      )}
    </article>
  )
}

function Standing({ defect }: { defect: DefectViewModel }) {
  if (defect.state === 'sent' && defect.mailTo !== null)
    return (
      <>
        Mailed to <b className="font-semibold">{defect.mailTo}</b>
        {defect.sentAt && (
          <>
            {' '}
            <Ago at={defect.sentAt} />
          </>
        )}
        .
      </>
    )
  if (defect.state === 'sent')
    return (
      <>
        The tracker knows it as{' '}
        <a
          href={defect.trackerUrl ?? '#'}
          target="_blank"
          rel="noreferrer"
          className="font-semibold underline decoration-faint underline-offset-2"
        >
          {defect.trackerNumber}
        </a>
        , state {defect.trackerState}
        {defect.trackerReadAt && (
          <>
            {' '}
            (asked <Ago at={defect.trackerReadAt} />)
          </>
        )}
        {defect.sentAt && (
          <>
            , sent <Ago at={defect.sentAt} />
          </>
        )}
        .{defect.attached > 0 && ` It has ${plural(defect.attached, 'piece')} of the evidence.`}
        {defect.trackerTitle !== null && (
          <span className="block">
            Somebody calls it there: <b className="font-semibold">{defect.trackerTitle}</b>
          </span>
        )}
        {defect.attachProblem && (
          <span className="block text-recovered-text">Evidence: {defect.attachProblem}</span>
        )}
      </>
    )
  const to = defect.mailTo ?? 'the tracker'
  if (defect.state === 'draft') return <>A draft: nobody has been sent it.</>
  if (!defect.sendProblem) return <>It is being sent to {to}.</>
  return (
    <>
      <b className="font-semibold">{defect.sendProblem}</b> The defect is kept here and is sent by itself as
      soon as that works; {plural(defect.sendTries, 'try', 'tries')} so far.
    </>
  )
}

const Words = ({ title, text, mono = false }: { title: string; text: string; mono?: boolean }) => (
  <section className="mt-4">
    <h3 className="label mb-1">{title}</h3>
    <p className={`whitespace-pre-wrap ${mono ? 'text-sm leading-[22px]' : 'text-sm'}`}>
      {text || <span className="text-soft">not said</span>}
    </p>
  </section>
)

function Evidence({ defect }: { defect: DefectViewModel }) {
  if (defect.evidence.length === 0) return null
  return (
    <section className="mt-4">
      <h3 className="label mb-1.5">Evidence</h3>
      <ul className="grid grid-cols-2 gap-3">
        {defect.evidence.map(({ kind, hash }) => (
          <li key={hash + kind} className="text-xs text-soft">
            <Piece kind={kind} hash={hash} />
            <span className="mt-1 block">{EVIDENCE_TITLES[kind]}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}

function Edit({ defect, onDone }: { defect: DefectViewModel; onDone(): void }) {
  const { title, steps, expected, actual, severity, version } = defect
  const form = useForm<DefectForm>({ defaultValues: { title, steps, expected, actual, severity } })
  const [problem, setProblem] = useState<string>()
  const save = form.handleSubmit(async (words) => {
    try {
      await api(`/api/defects/${defect.id}`, { method: 'PATCH', body: { ...words, version } })
      onDone()
    } catch (error) {
      setProblem((error as ApiProblem).message)
    }
  })
  return (
    <form onSubmit={(event) => void save(event)} className="flex flex-col gap-3">
      <DefectFields form={form} />
      {problem && <Problem>{problem}</Problem>}
      <div className="flex justify-end gap-2">
        <Button onClick={onDone}>Leave it as it was</Button>
        <Button look="main" type="submit" disabled={form.formState.isSubmitting}>
          Save
        </Button>
      </div>
    </form>
  )
}

/** One piece of evidence, as it is shown. */
function Piece({ kind, hash }: { kind: keyof typeof EVIDENCE_TITLES; hash: string }) {
  const address = evidenceUrl(hash)
  switch (kind) {
    case 'video':
      return (
        <video
          controls
          muted
          preload="metadata"
          src={address}
          aria-label="Video of the attempt"
          className="aspect-[16/10] w-full border border-line bg-black"
        />
      )
    case 'page-source':
      return (
        <a href={address} target="_blank" rel="noreferrer" className={buttonLook()}>
          Open the source
        </a>
      )
    default:
      return (
        <a href={address} target="_blank" rel="noreferrer">
          <EvidenceImage
            hash={hash}
            alt={EVIDENCE_TITLES[kind]}
            className="max-h-[280px] border border-line"
          />
        </a>
      )
  }
}
