/** Fields of forms: what a text, a long text and a choice look like, everywhere. */

type Look = {
  /** A class (`w-56`); without it a field takes the room there is. */
  width?: string | undefined
  /** `small` in a line of text, `tall` in dialogs. */
  size?: keyof typeof SIZES
  /** For keys, rules and values: the fixed-width face. */
  mono?: boolean | undefined
}
const SIZES = {
  small: 'h-6 bg-raised px-2',
  usual: 'h-[28px] bg-raised px-2',
  tall: 'h-[30px] bg-surface px-2.5',
}

const lookOf = ({ width = 'w-full', mono }: Look, more: string) =>
  `rounded-oak border border-line ${width} ${mono ? 'font-mono text-xs' : 'text-sm'} ${more}`

/** One line of text, or a number, a date, a file. */
export function TextField({
  width,
  size = 'usual',
  mono,
  className = '',
  ...input
}: Omit<React.ComponentProps<'input'>, 'size' | 'width'> & Look) {
  return <input {...input} className={lookOf({ width, mono }, `${SIZES[size]} ${className}`)} />
}

/** Several lines. */
export function TextArea({
  width,
  mono,
  className = '',
  ...area
}: React.ComponentProps<'textarea'> & Omit<Look, 'size'>) {
  return <textarea {...area} className={lookOf({ width, mono }, `bg-raised px-2 py-1 ${className}`)} />
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
  size = 'usual',
  mono,
  className = '',
  choices,
  onChoose,
  children,
  ...select
}: Omit<React.ComponentProps<'select'>, 'size'> &
  Look & { choices?: readonly Choice[]; onChoose?(value: string): void }) {
  const value = String(select.value ?? '')
  const isMissing = choices && value !== '' && !choices.some((choice) => choice.value === value)
  return (
    <select
      {...select}
      {...(onChoose && { onChange: ({ target }) => onChoose(target.value) })}
      className={lookOf({ width, mono }, `${SIZES[size]} ${className}`)}
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
