/** One band of the rotation bench: what it is about, a short word on what is chosen, and its fields. `field`
 * makes problems find it. */
export function Band({
  title,
  hint,
  field,
  children,
}: {
  title: string
  hint: React.ReactNode
  field: string
  children: React.ReactNode
}) {
  return (
    <section
      aria-label={title}
      data-field={field}
      className="grid grid-cols-[104px_minmax(0,1fr)] gap-x-3 border-b border-line px-[18px] py-3"
    >
      <header>
        <h2 className="font-display text-[17px] leading-[22px]">{title}</h2>
        <p className="mt-0.5 text-xs leading-[15px] text-soft">{hint}</p>
      </header>
      <div className="flex min-w-0 flex-col gap-2">{children}</div>
    </section>
  )
}

/** A line of a band: its name in front, its fields behind. */
export function Row({
  label,
  field,
  children,
}: {
  label: string
  field?: string
  children: React.ReactNode
}) {
  return (
    <div
      className="grid grid-cols-[52px_minmax(0,1fr)] items-start gap-x-3"
      {...(field && { 'data-field': field })}
    >
      <span className="pt-1 text-sm text-soft">{label}</span>
      <div className="flex min-w-0 flex-wrap items-center gap-1.5">{children}</div>
    </div>
  )
}

/** Something chosen, with a way to take it back. */
export function Chip({
  children,
  onRemove,
  label,
  wrong,
  mono = false,
}: {
  children: React.ReactNode
  onRemove?: (() => void) | undefined
  label: string
  wrong?: string | undefined
  mono?: boolean
}) {
  return (
    <span
      className={
        'inline-flex h-[28px] max-w-full items-center gap-1.5 rounded-full border bg-raised px-3 text-sm ' +
        `${wrong ? 'border-failed' : 'border-line'}`
      }
      title={wrong}
    >
      <span className={`truncate ${mono ? 'font-mono text-xs' : ''}`}>{children}</span>
      {wrong && <span className="sr-only">: {wrong}</span>}
      {onRemove && (
        <button
          type="button"
          aria-label={`Take away ${label}`}
          onClick={onRemove}
          className="-mr-1.5 rounded-full px-1 text-soft hover:text-failed"
        >
          ×
        </button>
      )}
    </span>
  )
}
