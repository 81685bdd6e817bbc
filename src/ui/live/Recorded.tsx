'use client'
import { describeStep, type Step } from '@/core/model'
import type { RecordedStep } from '@/core/live'
import { plural } from '@/core/view-models'
import { Button } from '../base/Button'

/** What the person did since it was taken over last, as steps. */
export function Recorded({
  steps,
  place,
  editable,
  onInsert,
  onForget,
}: {
  steps: readonly RecordedStep[]
  /** Where it would go: "after step 7". */
  place: string
  editable: boolean
  onInsert(steps: Step[]): void
  onForget(): void
}) {
  if (steps.length === 0)
    return (
      <p className="px-[14px] py-3 text-sm text-soft">
        What you do in the browser stands here as steps, to be put into the case.
      </p>
    )
  return (
    <section aria-label="Recorded" className="border-b border-line px-[14px] py-3">
      <h2 className="label mb-1">Recorded: {plural(steps.length, 'step')}</h2>
      <ol className="mb-2 max-h-52 overflow-auto text-sm" tabIndex={0} aria-label="Recorded steps">
        {steps.map(({ step, problem }, i) => (
          <li key={i} className="py-0.5">
            <StepWords step={step} />
            {problem && <span className="block text-xs text-failed">{problem}</span>}
          </li>
        ))}
      </ol>
      <div className="flex flex-wrap gap-2">
        <Button
          look="main"
          keyHint="i"
          disabled={!editable}
          onClick={() => onInsert(steps.map(({ step }) => step))}
        >
          Insert {place}
        </Button>
        <Button onClick={onForget}>Forget</Button>
      </div>
    </section>
  )
}

/** An agent of another version may name a verb that is not known here. */
function StepWords({ step }: { step: Step }) {
  let words: ReturnType<typeof describeStep>
  try {
    words = describeStep(step)
  } catch {
    return <span className="text-soft">a step that is not known here</span>
  }
  return (
    <>
      <b className="font-semibold text-act">{words.verb}</b> {words.object}{' '}
      <span className="font-mono text-xs text-soft">{words.detail}</span>
    </>
  )
}
