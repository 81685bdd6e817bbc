'use client'
import { Committed } from '../bench/Committed'
import { AnyOf } from '../base/ToggleGroup'
import { DAY_NAMES, type Recur } from './recur'
import { Select, TextField } from '../base/fields'

/** How often, in the fields its kind has. */
export function RecurFields({ recur, onSet }: { recur: Recur; onSet(recur: Recur): void }) {
  switch (recur.kind) {
    case 'once':
      return null
    case 'own':
      return (
        <span className="inline-block w-[360px] max-w-full font-mono">
          <Committed
            label="Recurrence rule (RFC 5545)"
            value={recur.rule}
            onCommit={(rule) => onSet({ kind: 'own', rule: rule.trim() })}
            hint="FREQ=WEEKLY;BYDAY=MO"
          />
        </span>
      )
    case 'hourly':
      return (
        <>
          <Every n={recur.every} unit="hour" onSet={(every) => onSet({ ...recur, every })} />
          <span className="text-sm text-soft">between</span>
          <Hour
            label="From hour"
            value={recur.from}
            onSet={(from) =>
              onSet(
                from === undefined
                  ? { kind: 'hourly', every: recur.every, days: recur.days }
                  : { ...recur, from, to: Math.max(from, recur.to ?? 23) },
              )
            }
          />
          {recur.from !== undefined && (
            <>
              <span className="text-sm text-soft">and</span>
              <Hour label="To hour" value={recur.to} onSet={(to) => onSet({ ...recur, to: to ?? 23 })} />
            </>
          )}
          <Days days={recur.days} onSet={(days) => onSet({ ...recur, days })} />
        </>
      )
    case 'daily':
      return (
        <>
          <Every n={recur.every} unit="day" onSet={(every) => onSet({ ...recur, every })} />
          <Hours hours={recur.hours} onSet={(hours) => onSet({ ...recur, hours })} />
        </>
      )
    case 'weekly':
      return (
        <>
          <Every n={recur.every} unit="week" onSet={(every) => onSet({ ...recur, every })} />
          <Days days={recur.days} onSet={(days) => onSet({ ...recur, days })} />
          <Hours hours={recur.hours} onSet={(hours) => onSet({ ...recur, hours })} />
        </>
      )
    case 'monthly':
      return (
        <>
          <Every n={recur.every} unit="month" onSet={(every) => onSet({ ...recur, every })} />
          <span className="text-sm text-soft">on</span>
          <Select
            aria-label="Which day of the month"
            width="w-auto"
            value={'day' in recur ? '' : String(recur.nth)}
            onChoose={(nth) => onSet(monthlyOn(recur, nth))}
            choices={NTH.map(([value, label]) => ({ value, label }))}
          >
            <option value="">day</option>
          </Select>
          {'day' in recur ? (
            <Number31 value={recur.day} onSet={(day) => onSet({ ...recur, day })} />
          ) : (
            <Select
              aria-label="Day of the week"
              width="w-auto"
              value={recur.weekday}
              onChoose={(weekday) => onSet({ ...recur, weekday })}
              choices={DAY_NAMES.map(([value, label]) => ({ value, label }))}
            />
          )}
        </>
      )
  }
}

const NTH = [
  ['1', 'the first'],
  ['2', 'the second'],
  ['3', 'the third'],
  ['4', 'the fourth'],
  ['-1', 'the last'],
] as const

/** @param nth empty: a day by its number */
const monthlyOn = (recur: Extract<Recur, { kind: 'monthly' }>, nth: string): Recur =>
  nth === ''
    ? { kind: 'monthly', every: recur.every, day: 1 }
    : {
        kind: 'monthly',
        every: recur.every,
        nth: Number(nth),
        weekday: 'weekday' in recur ? recur.weekday : 'MO',
      }

/** Several times a day; what is no hour is left out. */
function Hours({ hours, onSet }: { hours: number[]; onSet(hours: number[]): void }) {
  const read = (text: string) => {
    const all = text
      .split(/[\s,;]+/)
      .flatMap((part) => (/^\d{1,2}(:\d\d)?$/.test(part) ? [parseInt(part, 10)] : []))
    return [...new Set(all)].filter((hour) => hour < 24).sort((a, b) => a - b)
  }
  return (
    <span className="inline-flex items-center gap-1.5 text-sm text-soft">
      at the hours
      <span className="inline-block w-28">
        <Committed
          label="Hours of the day"
          value={hours.join(', ')}
          hint="only the first"
          onCommit={(text) => onSet(read(text))}
        />
      </span>
    </span>
  )
}

function Every({ n, unit, onSet }: { n: number; unit: string; onSet(n: number): void }) {
  return (
    <label className="inline-flex items-center gap-1.5 text-sm text-soft">
      every
      <TextField
        type="number"
        min={1}
        max={99}
        aria-label={`Every so many ${unit}s`}
        width="w-[58px]"
        value={n}
        onChange={({ target }) =>
          Number(target.value) >= 1 && onSet(Math.min(99, Math.floor(Number(target.value))))
        }
      />
      {n === 1 ? unit : `${unit}s`}
    </label>
  )
}

function Hour({
  label,
  value,
  onSet,
}: {
  label: string
  value: number | undefined
  onSet(hour: number | undefined): void
}) {
  return (
    <Select
      aria-label={label}
      width="w-[84px]"
      value={value ?? ''}
      onChoose={(chosen) => onSet(chosen === '' ? undefined : Number(chosen))}
    >
      <option value="">any</option>
      {Array.from({ length: 24 }, (_, hour) => (
        <option key={hour} value={hour}>
          {String(hour).padStart(2, '0')}
        </option>
      ))}
    </Select>
  )
}

function Number31({ value, onSet }: { value: number; onSet(day: number): void }) {
  return (
    <TextField
      type="number"
      min={1}
      max={31}
      aria-label="Day of the month"
      width="w-[58px]"
      value={value}
      onChange={({ target }) =>
        Number(target.value) >= 1 && Number(target.value) <= 31 && onSet(Math.floor(Number(target.value)))
      }
    />
  )
}

function Days({ days, onSet }: { days: string[]; onSet(days: string[]): void }) {
  return <AnyOf<string> label="Days of the week" chosen={days} choices={DAY_NAMES} onChange={onSet} />
}
