'use client'
/** Controls of forms: what a text, a long text and a choice look like, everywhere. In a `Field` they are
 * described by its hint and its error. */
import { useDescribed } from './Field'
import { useTypedEarly, useTypedEarlyInArea } from './typed-early'

type Look = {
  /** A class (`w-56`); without it a field takes the room there is. */
  width?: string | undefined
  /** `small` in a line of text, `tall` in dialogs, `page` on pages of a single form. */
  size?: keyof typeof SIZES | undefined
  /** For keys, rules and values: the fixed-width face. */
  mono?: boolean | undefined
}
const SIZES = {
  small: 'h-6 bg-raised px-2',
  usual: 'h-[28px] bg-raised px-2',
  tall: 'h-[30px] bg-surface px-2.5',
  page: 'h-9 bg-raised px-3',
}

function faceOf({ size, mono }: Look): string {
  if (mono) return 'font-mono text-xs'
  return size === 'page' ? 'text-base' : 'text-sm'
}

const BORDER = 'rounded-oak border border-line aria-invalid:border-failed'
const lookOf = ({ width = 'w-full', size = 'usual', mono }: Look) =>
  `${BORDER} ${width} ${SIZES[size]} ${faceOf({ size, mono })}`

/** One line of text, or a number, a date, a file. */
export function TextField({
  width,
  size,
  mono,
  className = '',
  ...input
}: Omit<React.ComponentProps<'input'>, 'size' | 'width'> & Look) {
  const described = useDescribed()
  const early = useTypedEarly(input)
  return (
    <input
      ref={early}
      {...described}
      {...input}
      className={`${lookOf({ width, size, mono })} ${className}`}
    />
  )
}

/** Several lines. */
export function TextArea({
  width = 'w-full',
  mono,
  className = '',
  ...area
}: React.ComponentProps<'textarea'> & Omit<Look, 'size'>) {
  const described = useDescribed()
  const early = useTypedEarlyInArea(area)
  return (
    <textarea
      ref={early}
      {...described}
      {...area}
      className={`${BORDER} bg-raised px-2 py-1 ${faceOf({ mono })} ${width} ${className}`}
    />
  )
}

export type Choice = { value: string; label?: string }
/** Choices of things that have a key and a title. */
export const titled = (things: readonly { key: string; title: string }[]): Choice[] =>
  things.map(({ key, title }) => ({ value: key, label: title }))

/** One of several, as the platform offers it: by mouse, keys, touch and screen reader alike.
 * @param choices offered after what stands inside; a value that is none of them is shown as one that is not
 * there, and is kept until another is chosen */
export function Select({
  width,
  size,
  mono,
  className = '',
  choices,
  onChoose,
  children,
  ...select
}: Omit<React.ComponentProps<'select'>, 'size'> &
  Look & { choices?: readonly Choice[]; onChoose?(value: string): void }) {
  const described = useDescribed()
  const value = String(select.value ?? '')
  const isMissing = choices && value !== '' && !choices.some((choice) => choice.value === value)
  return (
    <select
      {...described}
      {...select}
      {...(onChoose && { onChange: ({ target }) => onChoose(target.value) })}
      className={`${lookOf({ width, size, mono })} ${className}`}
    >
      {children}
      {isMissing && <option value={value}>{value} (is not there)</option>}
      {choices?.map((choice) => (
        <option key={choice.value} value={choice.value}>
          {choice.label ?? choice.value}
        </option>
      ))}
    </select>
  )
}
