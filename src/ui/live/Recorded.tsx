'use client'
import { useState } from 'react'
import { describeStep, type Step } from '@/core/model'
import {
  offeredGenerators,
  offeredNames,
  parameterName,
  withWritten,
  writtenIn,
  type RecordedStep,
} from '@/core/live'
import { plural } from '@/core/view-models'
import { Button } from '../base/Button'
import { useKeys } from '../frame/keys'

type Props = {
  steps: readonly RecordedStep[]
  /** What steps can refer to now: what was typed may be one of them. */
  values: Readonly<Record<string, string>>
  /** Names of parameters of the case. */
  parameters: readonly string[]
  /** Where it would go: "after step 7". */
  place: string
  editable: boolean
  /** @param made parameters that the steps refer to and are new, with their values */
  onInsert(steps: Step[], made: Record<string, string>): void
  onForget(): void
}

/** What the person did since it was taken over last, as steps. */
export function Recorded({ steps, values, parameters, place, editable, onInsert, onForget }: Props) {
  // by the step itself: what is typed on changes it, and then it is another
  const [named, setNamed] = useState<ReadonlyMap<string, Name>>(new Map())
  const insert = () => {
    const made = steps.flatMap(({ step }, i) => {
      const given = named.get(keyOf(step, i))
      return given?.isNew ? [[given.name, given.value ?? writtenIn(step) ?? ''] as const] : []
    })
    onInsert(
      steps.map(({ step }, i) => namedStep(step, named.get(keyOf(step, i)))),
      Object.fromEntries(made),
    )
    setNamed(new Map())
  }
  useKeys([{ key: 'i', what: 'insert what was recorded', off: !editable || steps.length === 0, run: insert }])
  if (steps.length === 0)
    return (
      <p className="px-[14px] py-3 text-sm text-soft">
        What you do in the browser stands here as steps, to be put into the case.
      </p>
    )
  // what was named is offered where the same stands once more
  const namedHere = Object.fromEntries(
    steps.flatMap(({ step }, i) => {
      const given = named.get(keyOf(step, i))
      return given?.isNew ? [[given.name, writtenIn(step) ?? '']] : []
    }),
  )
  const taken = [...parameters, ...Object.keys(values), ...[...named.values()].map(({ name }) => name)]
  const name = (key: string, given: Name | undefined) =>
    setNamed((now) => {
      const next = new Map(now)
      if (given) next.set(key, given)
      else next.delete(key)
      return next
    })
  return (
    <section aria-label="Recorded" className="border-b border-line px-[14px] py-3">
      <h2 className="label mb-1">Recorded: {plural(steps.length, 'step')}</h2>
      <ol className="mb-2 max-h-52 overflow-auto text-sm" tabIndex={0} aria-label="Recorded steps">
        {steps.map(({ step, problem }, i) => (
          <li key={i} className="py-0.5">
            <StepWords step={namedStep(step, named.get(keyOf(step, i)))} />
            {problem && <span className="block text-xs text-failed">{problem}</span>}
            {editable && !problem && (
              <Names
                step={step}
                given={named.get(keyOf(step, i))?.name}
                values={{ ...values, ...namedHere }}
                fresh={parameterName(step, taken)}
                onName={(given) => name(keyOf(step, i), given)}
              />
            )}
          </li>
        ))}
      </ol>
      <div className="flex flex-wrap gap-2">
        <Button look="main" keyHint="i" disabled={!editable} onClick={insert}>
          Insert {place}
        </Button>
        <Button onClick={onForget}>Forget</Button>
      </div>
    </section>
  )
}

/** `value`: of a new one, where it is not what was typed. */
type Name = { name: string; isNew: boolean; value?: string }
const namedStep = (step: Step, given: Name | undefined): Step =>
  given ? withWritten(step, `\${${given.name}}`) : step
const keyOf = (step: Step, i: number): string => `${i} ${JSON.stringify(step)}`

/** What was typed may be a value that is there already, or become a parameter. */
function Names({
  step,
  given,
  values,
  fresh,
  onName,
}: {
  step: Step
  given: string | undefined
  values: Readonly<Record<string, string>>
  fresh: string
  onName(given: Name | undefined): void
}) {
  const look = 'mr-2 text-xs text-soft underline decoration-faint underline-offset-2 hover:text-act'
  if (given !== undefined)
    return (
      <button type="button" className={look} onClick={() => onName(undefined)}>
        as it was typed
      </button>
    )
  if (writtenIn(step) === undefined) return null
  return (
    <span className="block">
      {offeredNames(step, values).map((name) => (
        <button key={name} type="button" className={look} onClick={() => onName({ name, isNew: false })}>
          it is {name}
        </button>
      ))}
      {step.verb !== 'check' && (
        <button type="button" className={look} onClick={() => onName({ name: fresh, isNew: true })}>
          as a parameter
        </button>
      )}
      {offeredGenerators(step, new Date()).map(({ expression, words }) => (
        <button
          key={expression}
          type="button"
          className={look}
          onClick={() => onName({ name: fresh, isNew: true, value: `\${${expression}}` })}
        >
          {words}
        </button>
      ))}
    </span>
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
