'use client'
import { ELEMENT_STATES, PAGE_SUBJECTS, SUBJECTS, type Subject, type Target } from '@/core/model'
import { Committed } from './Committed'
import { TargetFields } from './TargetFields'
import { Select } from '../base/fields'

/** A number where one is written, else the text as it is. */
const number = (text: string): unknown =>
  text.trim() !== '' && Number.isFinite(Number(text)) ? Number(text) : text

type Value = Record<string, unknown>
const MATCHERS = [
  'equals',
  'not',
  'contains',
  'startsWith',
  'matches',
  'near',
  'between',
  'atLeast',
  'atMost',
  'empty',
  'oneOf',
] as const
const MATCHER_WORDS: Record<(typeof MATCHERS)[number], string> = {
  equals: 'equals',
  not: 'is not',
  contains: 'contains',
  startsWith: 'starts with',
  matches: 'matches (expression)',
  near: 'is near',
  between: 'is between',
  atLeast: 'is at least',
  atMost: 'is at most',
  empty: 'is empty',
  oneOf: 'is one of',
}

/** What a subject is compared with at first. */
const FIRST_EXPECTED: Partial<Record<Subject, unknown>> = {
  state: 'visible',
  screen: 'screen-name',
  attribute: { name: 'href', contains: '' },
}

/** What is compared, and with what. */
export function CheckFields({ id, value, onSet }: { id: string; value: Value; onSet(value: Value): void }) {
  const subject = SUBJECTS.find((one) => one in value) ?? 'text'
  const { of, soft, ignore, ...rest } = value
  /** What is not said anew stays as it was. */
  const putAll = (next: { of?: unknown; soft?: boolean; compared?: Value }) => {
    const target = 'of' in next ? next.of : of
    onSet({
      ...(target !== undefined && { of: target }),
      ...(next.compared ?? rest),
      ...(ignore !== undefined && { ignore }),
      ...((next.soft ?? soft === true) && { soft: true }),
    })
  }
  const put = (compared: Value) => putAll({ compared })
  const setSubject = (next: Subject) =>
    put({
      [next]: FIRST_EXPECTED[next] ?? { equals: '' },
    })
  const matching = (rest[subject] ?? {}) as Value
  return (
    <div className="flex flex-col gap-1.5">
      {!(PAGE_SUBJECTS.includes(subject) && of === undefined) && (
        <TargetFields id={id} value={of as Target | undefined} onSet={(target) => putAll({ of: target })} />
      )}
      <div className="flex flex-wrap items-center gap-1.5">
        <Select
          aria-label="What is compared"
          {...(PAGE_SUBJECTS.includes(subject) && of === undefined && { id })}
          width="w-32"
          value={subject}
          onChoose={(chosen) => setSubject(chosen as Subject)}
          choices={SUBJECTS.map((value) => ({ value }))}
        />
        {subject === 'state' && (
          <Select
            aria-label="State"
            width="w-32"
            value={String(value.state)}
            onChoose={(chosen) => put({ state: chosen })}
            choices={ELEMENT_STATES.map((value) => ({ value }))}
          />
        )}
        {subject === 'screen' && (
          <Committed
            label="Name of the screen"
            value={String(value.screen)}
            onCommit={(screen) => put({ screen })}
          />
        )}
        {subject === 'attribute' && (
          <Committed
            narrow
            label="Attribute"
            value={String(matching.name ?? '')}
            onCommit={(name) => put({ attribute: { ...matching, name } })}
          />
        )}
        {subject !== 'state' && subject !== 'screen' && (
          <Matching value={matching} onSet={(next) => put({ [subject]: next })} />
        )}
      </div>
      <label className="flex items-center gap-1.5 text-sm">
        <input
          type="checkbox"
          className="accent-[var(--act)]"
          checked={soft === true}
          onChange={({ target }) => putAll({ soft: target.checked })}
        />
        goes on when it does not hold
      </label>
    </div>
  )
}

export function Matching({ value, onSet }: { value: Value; onSet(value: Value): void }) {
  const { name: attribute, ...parts } = value
  const matcher = MATCHERS.find((one) => one in parts) ?? 'equals'
  const put = (part: string, operand: unknown) =>
    onSet({
      ...(attribute !== undefined && { name: attribute }),
      ...(part === matcher ? parts : {}),
      [part]: operand,
    })
  const operand = parts[matcher]
  const begin: Record<string, unknown> = {
    near: { value: 0, within: 0 },
    between: [0, 1],
    empty: true,
    oneOf: [''],
    atLeast: 1,
    atMost: 1,
  }
  return (
    <>
      <Select
        aria-label="How it is compared"
        width="w-36"
        value={matcher}
        onChoose={(chosen) => put(chosen, begin[chosen] ?? (typeof operand === 'string' ? operand : ''))}
      >
        {MATCHERS.map((one) => (
          <option key={one} value={one}>
            {MATCHER_WORDS[one]}
          </option>
        ))}
      </Select>
      <div className="flex min-w-[140px] flex-1 gap-1.5">
        {matcher === 'near' && <Near operand={operand as NearOperand} onSet={(near) => put('near', near)} />}
        {matcher === 'between' &&
          (operand as unknown[]).map((end, i) => (
            <Committed
              key={i}
              label={i === 0 ? 'From' : 'To'}
              value={String(end)}
              onCommit={(text) =>
                put(
                  'between',
                  (operand as unknown[]).map((other, j) => (j === i ? number(text) : other)),
                )
              }
            />
          ))}
        {matcher === 'oneOf' && (
          <Committed
            label="Values"
            hint="with commas"
            value={(operand as unknown[]).join(', ')}
            onCommit={(text) => put('oneOf', text.split(/\s*,\s*/))}
          />
        )}
        {(matcher === 'atLeast' || matcher === 'atMost') && (
          <Committed label="Value" value={String(operand)} onCommit={(text) => put(matcher, number(text))} />
        )}
        {['equals', 'not', 'contains', 'startsWith', 'matches'].includes(matcher) && (
          <Committed label="Expected" value={String(operand ?? '')} onCommit={(text) => put(matcher, text)} />
        )}
      </div>
    </>
  )
}

type NearOperand = { value: unknown; within: unknown }

function Near({
  operand: { value, within },
  onSet,
}: {
  operand: NearOperand
  onSet(operand: NearOperand): void
}) {
  return (
    <>
      <Committed
        label="Value"
        value={String(value)}
        onCommit={(text) => onSet({ value: number(text), within })}
      />
      <span className="pt-1 text-xs text-soft">within</span>
      <Committed
        label="Within"
        value={String(within)}
        onCommit={(text) => onSet({ value, within: number(text) })}
      />
    </>
  )
}
