'use client'
import { useState } from 'react'
import { describeMatcher, type Condition } from '@/core/model'
import type { Stop } from '@/core/live'
import { Committed } from '../bench/Committed'
import { Field } from '../base/Field'
import { Select } from '../base/fields'

type When = 'always' | 'visible' | 'hidden' | 'value'
const WHENS: Record<When, string> = {
  always: 'each time',
  visible: 'when a text is seen',
  hidden: 'when a text is not seen',
  value: 'when a value is',
}

/** When the stop before a step counts. */
export function StopFields({
  number,
  stop,
  values,
  onChange,
}: {
  number: number
  stop: Stop
  /** Names that steps can refer to. */
  values: readonly string[]
  onChange(stop: Stop): void
}) {
  const { when, from } = stop
  // one of a text counts once there is a text
  const [chosen, setChosen] = useState(whenOf(when))
  const change = (more: Partial<Stop>) => {
    const { when: _, ...rest } = { ...stop, ...more }
    const condition = 'when' in more ? more.when : when
    onChange({ ...rest, ...(condition && { when: condition }) })
  }
  const name = when && 'value' in when ? when.value.slice(2, -1) : (values[0] ?? '')
  return (
    <section aria-label={`Stop before step ${number}`} className="border-b border-line px-[14px] py-2.5">
      <h2 className="label mb-1">Stop before step {number}</h2>
      <div className="flex flex-wrap items-end gap-2">
        <Select
          aria-label="When it stops"
          value={chosen}
          onChoose={(next) => {
            setChosen(next as When)
            change({ when: conditionOf(next as When, name, textOf(when)) })
          }}
        >
          {Object.entries(WHENS)
            .filter(([key]) => key !== 'value' || values.length > 0)
            .map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
        </Select>
        {chosen === 'value' && (
          <Select
            aria-label="Which value"
            value={name}
            onChoose={(next) => change({ when: conditionOf('value', next, textOf(when)) })}
          >
            {values.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </Select>
        )}
        {chosen !== 'always' && (
          <span className="min-w-24 flex-1">
            <Committed
              label="Text"
              value={textOf(when)}
              onCommit={(text) => change({ when: conditionOf(chosen, name, text) })}
            />
          </span>
        )}
        <Field label="From time" className="w-20">
          <Committed
            label="From time"
            value={String(from ?? 1)}
            onCommit={(text) => change({ from: Math.min(1000, Math.max(1, Math.round(Number(text)) || 1)) })}
          />
        </Field>
      </div>
    </section>
  )
}

/** "from the 3rd time on, when …" */
export function stopWords({ when, from = 1 }: Stop): string {
  const words = [from > 1 && `from time ${from} on`, when && conditionWords(when)]
  return words.filter(Boolean).join(', ')
}

function conditionWords(when: Condition): string {
  if ('value' in when) return `when ${when.value} is ${describeMatcher(when.is)}`
  return 'visible' in when ? `when “${when.visible.text}” is seen` : `when “${when.hidden.text}” is not seen`
}

function whenOf(when: Condition | undefined): When {
  if (!when) return 'always'
  if ('value' in when) return 'value'
  return 'visible' in when ? 'visible' : 'hidden'
}

function textOf(when: Condition | undefined): string {
  if (!when) return ''
  if ('value' in when) return String(when.is.equals ?? '')
  return ('visible' in when ? when.visible : when.hidden).text ?? ''
}

function conditionOf(when: When, name: string, text: string): Condition | undefined {
  if (when === 'always') return undefined
  if (when === 'value') return { value: `\${${name}}`, is: { equals: text } }
  if (text === '') return undefined
  const target = { text }
  return when === 'visible' ? { visible: target } : { hidden: target }
}
