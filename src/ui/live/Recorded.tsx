'use client'
import { useState } from 'react'
import { describeStep, type Step } from '@/core/model'
import {
  offeredGenerators,
  offeredNames,
  offeredRoutine,
  parameterName,
  withNamed,
  withWritten,
  writtenIn,
  type KnownRoutine,
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
  routines: readonly KnownRoutine[]
  /** Where it would go: "after step 7". */
  place: string
  editable: boolean
  /** @param made parameters, and columns of the table, that the steps refer to and are new, with their
   * values */
  onInsert(steps: Step[], made: Made): Promise<void>
  onForget(): void
}

/** What the person did since it was taken over last, as steps. */
export function Recorded({
  steps,
  values,
  parameters,
  routines,
  place,
  editable,
  onInsert,
  onForget,
}: Props) {
  // by the step itself: what is typed on changes it, and then it is another
  const [named, setNamed] = useState<ReadonlyMap<string, Name>>(new Map())
  const [usesRoutine, setUsesRoutine] = useState(false)
  const written = steps.map(({ step }, i) => namedStep(step, named.get(keyOf(step, i))))
  const routine = offeredRoutine(written, routines)
  const isUsed = usesRoutine && routine !== undefined
  const insert = async () => {
    const made = (as: Name['as']) =>
      Object.fromEntries(
        steps.flatMap(({ step }, i) => {
          const given = named.get(keyOf(step, i))
          return given?.as === as ? [[given.name, given.value ?? writtenIn(step) ?? '']] : []
        }),
      )
    await onInsert(isUsed ? [routine.step, ...written.slice(routine.count)] : written, {
      parameters: made('parameter'),
      columns: made('column'),
    })
    setNamed(new Map())
    setUsesRoutine(false)
  }
  useKeys([
    {
      key: 'i',
      what: 'insert what was recorded',
      off: !editable || steps.length === 0,
      run: () => void insert(),
    },
  ])
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
      return given && given.as !== 'value' ? [[referenceOf(given), writtenIn(step) ?? '']] : []
    }),
  )
  const taken = [
    ...parameters,
    ...Object.keys(values).map((one) => one.replace(/^row\./, '')),
    ...[...named.values()].map((given) => given.name),
  ]
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
      {routine && editable && (
        <p className="mb-1 text-sm">
          The first {routine.count} are what the routine <b className="font-semibold">{routine.title}</b>{' '}
          does.{' '}
          <Button className="!h-7 !px-2" aria-pressed={isUsed} onClick={() => setUsesRoutine(!usesRoutine)}>
            {isUsed ? 'Keep the steps' : 'Use it instead'}
          </Button>
        </p>
      )}
      <ol className="mb-2 max-h-52 overflow-auto text-sm" tabIndex={0} aria-label="Recorded steps">
        {steps.map(({ step, problem, caution }, i) => (
          <li key={i} className={`py-0.5 ${isUsed && i < routine.count ? 'text-soft line-through' : ''}`}>
            <StepWords step={namedStep(step, named.get(keyOf(step, i)))} />
            {problem && <span className="block text-xs text-failed">{problem}</span>}
            {caution && <span className="block text-xs text-errored">{caution}</span>}
            {editable && !problem && (
              <Names
                step={step}
                isNamed={named.has(keyOf(step, i))}
                values={{ ...values, ...namedHere }}
                fresh={parameterName(step, taken)}
                onName={(given) => name(keyOf(step, i), given)}
              />
            )}
          </li>
        ))}
      </ol>
      <div className="flex flex-wrap gap-2">
        <Button look="main" keyHint="i" disabled={!editable} onClick={() => void insert()}>
          Insert {place}
        </Button>
        <Button onClick={onForget}>Forget</Button>
      </div>
    </section>
  )
}

export type Made = { parameters: Record<string, string>; columns: Record<string, string> }
/** `as`: one that is there, or a new one. `value`: what it is; of a new one, where it is not what was
 * typed. */
type Name = { name: string; as: 'value' | 'parameter' | 'column'; value?: string }
const referenceOf = ({ name, as }: Name) => (as === 'column' ? `row.${name}` : name)
function namedStep(step: Step, given: Name | undefined): Step {
  if (!given) return step
  const { as, name, value = '' } = given
  return as === 'value' ? withNamed(step, name, value) : withWritten(step, `\${${referenceOf(given)}}`)
}
const keyOf = (step: Step, i: number): string => `${i} ${JSON.stringify(step)}`

/** What was typed may be a value that is there already, or become a parameter. */
function Names({
  step,
  isNamed,
  values,
  fresh,
  onName,
}: {
  step: Step
  isNamed: boolean
  values: Readonly<Record<string, string>>
  fresh: string
  onName(given: Name | undefined): void
}) {
  const look = 'mr-2 text-xs text-soft underline decoration-faint underline-offset-2 hover:text-act'
  if (isNamed)
    return (
      <button type="button" className={look} onClick={() => onName(undefined)}>
        as it was typed
      </button>
    )
  return (
    <span className="block">
      {offeredNames(step, values).map((name) => (
        <button
          key={name}
          type="button"
          className={look}
          onClick={() => onName({ name, as: 'value', value: values[name]! })}
        >
          it is {name}
        </button>
      ))}
      {step.verb !== 'check' && writtenIn(step) !== undefined && (
        <>
          <button type="button" className={look} onClick={() => onName({ name: fresh, as: 'parameter' })}>
            as a parameter
          </button>
          <button type="button" className={look} onClick={() => onName({ name: fresh, as: 'column' })}>
            as a column
          </button>
        </>
      )}
      {offeredGenerators(step, new Date()).map(({ expression, words }) => (
        <button
          key={expression}
          type="button"
          className={look}
          onClick={() => onName({ name: fresh, as: 'parameter', value: `\${${expression}}` })}
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
