'use client'
import { useId } from 'react'
import { ELEMENT_STATES, type Target } from '@/core/model'
import { VERB_NAMES, VERBS, type Path, type StepField } from '@/core/model/editing'
import type { BenchViewModel } from '@/core/view-models'
import { CheckFields } from './CheckFields'
import { Matchers, OneMatcher, type Matcher } from './Matchers'
import { Committed } from './Committed'
import { TargetFields } from './TargetFields'
import { Values } from './Values'
import { numberWritten } from '../edit/written'
import { Select, titled } from '../base/fields'

type Props = {
  field: StepField
  value: unknown
  whole: Record<string, unknown>
  offers: BenchViewModel['offers']
  onSet(value: unknown, path?: Path): void
}

/** One field of a step with its label. What is emptied is taken out of the file. */
export function FieldOfStep({ field, value, whole, offers, onSet }: Props) {
  const id = useId()
  return (
    <>
      <label className="label pt-1.5" htmlFor={id}>
        {field.label}
      </label>
      <div className="min-w-0">{control({ field, value, whole, offers, onSet }, id)}</div>
    </>
  )
}

function control({ field, value, whole, offers, onSet }: Props, id: string): React.ReactNode {
  const text = value === undefined ? '' : String(value)
  const plain = (written: string) => onSet(written === '' ? undefined : written)
  const needed = isNeeded(field.path)
  switch (field.kind) {
    case 'target':
      return <TargetFields id={id} value={value as Target | undefined} needed={needed} onSet={onSet} />
    case 'check':
      return <CheckFields id={id} value={(value ?? {}) as Record<string, unknown>} onSet={onSet} />
    case 'long':
      return <Committed id={id} value={text} long needed={needed} onCommit={plain} hint={field.hint} />
    case 'number':
      return (
        <Committed
          id={id}
          value={text}
          narrow
          onCommit={(written) => onSet(numberWritten(written))}
          hint={field.hint}
        />
      )
    case 'duration':
      return <Committed id={id} value={text} narrow onCommit={plain} hint="500ms, 30s, 2m" />
    case 'state':
      return <Choice id={id} value={text || 'visible'} choices={ELEMENT_STATES} onSet={onSet} />
    case 'answer':
      return <Choice id={id} value={text} choices={['accept', 'dismiss']} onSet={onSet} />
    case 'method':
      return <Choice id={id} value={text} choices={['GET', 'POST', 'PUT', 'PATCH', 'DELETE']} onSet={onSet} />
    case 'choice':
      return <Choice id={id} value={text} choices={field.choices ?? []} onSet={onSet} none={!needed} />
    case 'flag':
      return (
        <input
          id={id}
          type="checkbox"
          className="mt-2 accent-[var(--act)]"
          checked={value === true}
          onChange={({ target }) => onSet(target.checked || undefined)}
        />
      )
    case 'json':
      return (
        <Committed
          id={id}
          value={value === undefined ? '' : JSON.stringify(value)}
          onCommit={(written) => onSet(written === '' ? undefined : jsonOr(written))}
          hint="JSON"
        />
      )
    case 'list':
      return (
        <Committed
          id={id}
          value={((value as unknown[] | undefined) ?? []).join(', ')}
          onCommit={(written) => onSet(written === '' ? undefined : written.split(/\s*,\s*/))}
          hint="one after the other, with commas"
        />
      )
    case 'values':
      return (
        <Values
          value={value as Record<string, string> | undefined}
          onSet={onSet}
          hint={field.hint}
          label={field.label}
        />
      )
    case 'matcher':
      return <OneMatcher label={field.label} value={value as Matcher | undefined} onSet={onSet} />
    case 'matchers':
      return (
        <Matchers
          label={field.label}
          hint={field.hint}
          value={value as Record<string, Matcher> | undefined}
          onSet={onSet}
        />
      )
    case 'routine': {
      const routine = offers.routines.find(({ key }) => key === text)
      return (
        <div className="flex flex-col gap-1.5">
          <Select id={id} value={text} onChoose={onSet} choices={titled(offers.routines)} />
          <Values
            value={whole.with as Record<string, string> | undefined}
            names={routine?.parameters}
            onSet={(given) => onSet(given, ['with'])}
            label="Parameters"
          />
        </div>
      )
    }
    case 'text':
      return <Committed id={id} value={text} needed={needed} onCommit={plain} hint={field.hint} />
  }
}

/** Whether a step is none without this field: what stands behind its verb, and what the verb wants. */
function isNeeded([verb, name, ...deeper]: Path): boolean {
  const known = VERB_NAMES.find((one) => one === verb)
  if (known === undefined || deeper.length > 0) return false
  const { required = [] } = VERBS[known].schema as { required?: string[] }
  return name === undefined || required.includes(String(name))
}

const jsonOr = (written: string): unknown => {
  try {
    return JSON.parse(written)
  } catch {
    return written
  }
}

const Choice = ({
  id,
  value,
  choices,
  none = false,
  onSet,
}: {
  id: string
  value: string
  choices: readonly string[]
  /** It may be left out of the file. */
  none?: boolean
  onSet(value: string | undefined): void
}) => (
  <Select
    id={id}
    width="w-40"
    value={value}
    onChoose={(chosen) => onSet(chosen || undefined)}
    choices={[...(none ? [{ value: '', label: 'not said' }] : []), ...choices.map((value) => ({ value }))]}
  />
)
