'use client'
import { toast } from 'sonner'
import { describeDuration } from '@/core/model'
import type { ShorteningsViewModel, ShorteningViewModel } from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { useFrame } from '../frame/tools'

/** Shortening by trying, under the steps of a draft: what it would do, how far it is, and what it found. */
export function Shorten({
  attemptId,
  drafted,
  onTake,
}: {
  attemptId: string
  /** The steps as they were drafted: those that only look are not among them. */
  drafted: string
  onTake(steps: string): void
}) {
  const { may } = useFrame()
  const path = `/api/attempts/${attemptId}/shorten`
  const { data } = useViewModel<ShorteningsViewModel>(path, [`triage:${attemptId}`, 'triage', 'run'])
  const { problem, busy, ask } = useAsking(() => {})
  if (!data) return null
  const { found, canTry, why, ms, most } = data
  if (!found && why) return <p className="text-sm text-soft">Fewer steps cannot be tried: {why}</p>
  const isDrafted = found?.state === 'over' && found.steps === drafted
  const steps = found?.state === 'over' && !isDrafted ? found.steps : null
  return (
    <section aria-label="Fewer steps" className="flex flex-wrap items-center gap-2 text-sm">
      <p className="min-w-[260px] flex-1 text-soft" role="status">
        {found
          ? `${wordsOf(found)}${isDrafted ? ' The draft has just these.' : ''}`
          : `Shorten by trying: it is run again with fewer and fewer steps, at most ${most} times of ` +
            `about ${describeDuration(ms)}.`}
      </p>
      {steps !== null && found!.kept < found!.of && (
        <Button
          onClick={() => {
            onTake(steps)
            toast('The shorter steps stand in the draft')
          }}
        >
          Take these steps
        </Button>
      )}
      {may('tester') && found?.state === 'going' && (
        <Button disabled={busy} onClick={() => void ask(() => api(path, { method: 'DELETE' }))}>
          Stop trying
        </Button>
      )}
      {may('tester') && canTry && (
        <Button disabled={busy} onClick={() => void ask(() => api(path, { method: 'POST' }))}>
          {found ? 'Try again' : 'Shorten by trying'}
        </Button>
      )}
      {problem && <Problem>{problem}</Problem>}
    </section>
  )
}

function wordsOf({ state, of, kept, tries, most, isShortest, problem, by }: ShorteningViewModel): string {
  const tried = `tried ${tries === 1 ? 'once' : `${tries} times`}, by ${by}`
  switch (state) {
    case 'going':
      return `Trying: ${tries} of at most ${most} tries; ${kept} of ${of} steps still fail.`
    case 'gone':
      return `With all its steps it did not fail again (${tried}): it may come and go.`
    case 'stopped':
      return `Stopped: ${kept} of ${of} steps still failed (${tried}).`
    case 'problem':
      return `It could not be tried on: ${problem} ${kept} of ${of} steps still failed (${tried}).`
    case 'over':
      if (kept === of) return `All ${of} steps are needed (${tried}).`
      return isShortest
        ? `${kept} of ${of} steps are enough, and none of them can go (${tried}).`
        : `${kept} of ${of} steps are enough; the tries were over before each was tried (${tried}).`
  }
}
