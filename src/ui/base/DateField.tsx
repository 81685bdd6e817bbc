'use client'
import { CalendarDays } from 'lucide-react'
import { useId, useRef, useState } from 'react'
import { readTypedDate, showDate } from '@/core/model'
import { useDescribed } from './Field'
import { TextField } from './fields'

type Props = {
  /** ISO 8601 without a zone: a date, with `withTime` a date and a time; empty for none. */
  value: string
  /** Is called for every complete date, and with an empty text when the field is emptied. */
  onChange(value: string): void
  withTime?: boolean
  /** Also in a `Field`: its label would hold what is told of the date. */
  'aria-label': string
  'aria-invalid'?: boolean | undefined
  'aria-describedby'?: string | undefined
  'data-field'?: string
}

/** A date, written as everywhere in the product, whatever the language of the browser; typed, or chosen from
 * the calendar of the browser (the button, or Alt and the down key). What is no date changes nothing and is
 * told when the field is left. */
export function DateField({ value, onChange, withTime = false, ...rest }: Props) {
  const [text, setText] = useState(showDate(value))
  const [known, setKnown] = useState(value)
  const [told, setTold] = useState(false)
  const calendar = useRef<HTMLInputElement>(null)
  const described = useDescribed()
  const faultId = useId()
  if (known !== value) {
    setKnown(value)
    if (readTypedDate(text, withTime) !== value) setText(showDate(value))
  }
  const type = (typed: string) => {
    setText(typed)
    setTold(false)
    const read = readTypedDate(typed, withTime)
    if (read !== undefined || typed.trim() === '') onChange(read ?? '')
  }
  const leave = () => {
    const read = readTypedDate(text, withTime)
    if (read !== undefined) setText(showDate(read))
    setTold(read === undefined && text.trim() !== '')
  }
  const choose = () => calendar.current?.showPicker()
  const form = withTime ? '2026-12-03 16:00' : '2026-12-03'
  const describedBy = [rest['aria-describedby'] ?? described['aria-describedby'], told && faultId]
  return (
    <>
      <span className={`relative inline-block ${withTime ? 'w-[162px]' : 'w-[126px]'}`}>
        <TextField
          {...rest}
          aria-invalid={told || rest['aria-invalid'] || described['aria-invalid'] || undefined}
          aria-describedby={describedBy.filter(Boolean).join(' ') || undefined}
          className="pr-7 tabular-nums"
          placeholder={form}
          value={text}
          onChange={({ target }) => type(target.value)}
          onBlur={leave}
          onKeyDown={(event) => {
            if (!event.altKey || event.key !== 'ArrowDown') return
            event.preventDefault()
            choose()
          }}
        />
        <input
          ref={calendar}
          type={withTime ? 'datetime-local' : 'date'}
          className="pointer-events-none absolute inset-x-0 bottom-0 h-full opacity-0"
          tabIndex={-1}
          aria-hidden
          value={value.slice(0, withTime ? 16 : 10)}
          onChange={({ target }) => target.value && type(showDate(target.value))}
        />
        <button
          type="button"
          className="absolute inset-y-0 right-0 grid w-7 place-items-center text-soft hover:text-ink"
          title="Choose from a calendar"
          tabIndex={-1}
          aria-hidden
          onClick={choose}
        >
          <CalendarDays size={14} />
        </button>
      </span>
      {told && (
        <span id={faultId} role="alert" className="text-sm text-failed">
          Not a date{withTime && ' and time'}: write it like {form}.
        </span>
      )}
    </>
  )
}
