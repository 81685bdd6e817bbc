'use client'
import { useRouter } from '../base/opening'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import type { DefectDraftViewModel, DefectViewModel } from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'
import { useAsking } from '../asking'
import { EvidenceImage } from '../base/EvidenceImage'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { LikeIt } from './LikeIt'
import { DefectFields, type DefectForm } from './DefectFields'
import { SendWay, type Way } from './SendWay'
import { Shorten } from './Shorten'

/** A failure with its log, or one that a result file told. */
type Drafted = { attemptId: string } | { caseRunId: string }

/** A defect drafted from the evidence: read it, mend the words, log it. */
export function DraftDialog({ of, onClose }: { of: Drafted; onClose(): void }) {
  const address =
    'attemptId' in of ? `/api/defects/draft/${of.attemptId}` : `/api/case-runs/${of.caseRunId}/draft`
  const { data, error } = useViewModel<DefectDraftViewModel>(address, [])
  return (
    <Dialog open onClose={onClose} title="Log a defect" wide>
      {error && <Problem>{error.message}</Problem>}
      {!error && data && <DraftForm draft={data} of={of} />}
      {!error && !data && <div className="h-[420px] animate-pulse rounded-oak bg-ground" />}
    </Dialog>
  )
}

function DraftForm({ draft, of }: { draft: DefectDraftViewModel; of: Drafted }) {
  const router = useRouter()
  const [problem, setProblem] = useState<string>()
  const [kept, setKept] = useState(() => new Set(draft.evidence.map(({ hash }) => hash)))
  const { title, steps, expected, actual, severity, ways, owner } = draft
  const [way, setWay] = useState<Way>(ways[0] ?? 'tracker')
  const [mailTo, setMailTo] = useState(owner?.mail ?? '')
  const form = useForm<DefectForm>({ defaultValues: { title, steps, expected, actual, severity } })
  const save = (send: boolean) =>
    form.handleSubmit(async (words) => {
      setProblem(undefined)
      try {
        const defect = await api<DefectViewModel>('/api/defects', {
          method: 'POST',
          body: {
            ...words,
            ...of,
            evidence: [...kept],
            send,
            ...(send && way === 'mail' && { mailTo: mailTo.trim() }),
          },
        })
        toast(
          send
            ? `Logged; it is on its way to ${way === 'mail' ? mailTo.trim() : 'the tracker'}`
            : 'Saved as a draft',
        )
        router.push(`/defects?id=${defect.id}`)
      } catch (error) {
        setProblem((error as ApiProblem).message)
      }
    })()
  const again = useAsking()
  const attemptId = 'attemptId' in of ? of.attemptId : undefined
  const failure = { ...of, evidence: [...kept] }
  const isKnown = (path: string, body: object, known?: number) =>
    void again.ask(async () => {
      const { id = known, ...did } = await api<{ id?: number; said: boolean; decided: boolean }>(path, {
        method: 'POST',
        body,
      })
      toast(
        [
          did.said ? 'The tracker will be told' : 'The tracker is told nothing new',
          did.decided ? 'the cause is decided as known' : 'what is decided of the cause stays',
        ].join('; '),
      )
      router.push(`/defects?id=${id}`)
    })
  const toggle = (hash: string) =>
    setKept((old) => new Set(old.has(hash) ? [...old].filter((other) => other !== hash) : [...old, hash]))
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        void save(true)
      }}
      className="flex flex-col gap-3"
    >
      <p className="text-sm text-soft">
        {draft.caseTitle} · {draft.environment} · build {draft.build} · run {draft.runId}
      </p>
      <LikeIt
        known={draft.known}
        hasTracker={ways.includes('tracker')}
        disabled={again.busy}
        onSame={(id) => isKnown(`/api/defects/${id}/again`, failure, id)}
        onAdopt={(number) => isKnown('/api/defects/adopt', { ...failure, number })}
      />
      {again.problem && <Problem>{again.problem}</Problem>}
      <DefectFields
        form={form}
        because={`${draft.severity}: ${draft.because}`}
        belowSteps={
          attemptId !== undefined && (
            <Shorten
              attemptId={attemptId}
              drafted={steps}
              onTake={(shorter) => form.setValue('steps', shorter, { shouldDirty: true })}
            />
          )
        }
      />
      {draft.occurs !== '' && (
        <section aria-label="Where and since when" className="text-sm">
          <h3 className="label mb-1">Where and since when</h3>
          <p>{draft.occurs}</p>
        </section>
      )}
      <fieldset>
        <legend className="label mb-1">Evidence that goes with it</legend>
        {draft.evidence.length === 0 && (
          <p className="text-sm text-soft">
            {attemptId === undefined
              ? 'A result file brings no evidence; the defect leads to what it said.'
              : 'This attempt left no screen.'}
          </p>
        )}
        <div className="flex flex-wrap gap-2">
          {draft.evidence.map(({ kind, hash, title: name }) => (
            <label
              key={hash}
              className="flex cursor-pointer items-center gap-2 rounded-oak border border-line p-1.5 text-sm"
            >
              <input
                type="checkbox"
                checked={kept.has(hash)}
                onChange={() => toggle(hash)}
                className="accent-[var(--act)]"
              />
              {kind.startsWith('screen') && (
                <EvidenceImage
                  hash={hash}
                  alt=""
                  className="h-8 w-12 border border-line object-cover object-top"
                />
              )}
              {name}
            </label>
          ))}
        </div>
      </fieldset>
      <SendWay {...{ ways, way, setWay, mailTo, setMailTo }} owner={owner} />
      {problem && <Problem>{problem}</Problem>}
      <div className="flex justify-end gap-2 border-t border-line pt-3">
        <Button onClick={() => void save(false)} disabled={form.formState.isSubmitting}>
          Save as a draft
        </Button>
        <Button
          look="main"
          type="submit"
          disabled={form.formState.isSubmitting || (way === 'mail' && !mailTo.includes('@'))}
        >
          Log it
        </Button>
      </div>
    </form>
  )
}
