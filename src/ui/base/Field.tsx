'use client'
import { createContext, useContext, useId } from 'react'

type Described = { 'aria-describedby'?: string; 'aria-invalid'?: true }
const Around = createContext<Described>({})

/** What the field around a control says of it, for screen readers: spread on the control. */
export const useDescribed = (): Described => useContext(Around)

/** A control with its label over it, and below it what to know before (`hint`) and what is wrong (`error`).
 * Both are read out with the control; an error is also said when it appears.
 * @param children one control of `fields`, or another that takes `useDescribed` */
export function Field({
  label,
  hint,
  error,
  className,
  children,
}: {
  label: React.ReactNode
  hint?: React.ReactNode
  error?: string | undefined
  className?: string
  children: React.ReactNode
}) {
  const id = useId()
  const ids = [hint && `${id}hint`, error && `${id}error`].filter(Boolean).join(' ')
  return (
    <div className={className}>
      <label className="block">
        <span className="label block">{label}</span>
        <Around value={{ ...(ids && { 'aria-describedby': ids }), ...(error && { 'aria-invalid': true }) }}>
          {children}
        </Around>
      </label>
      {hint && (
        <p id={`${id}hint`} className="mt-1 text-xs text-soft">
          {hint}
        </p>
      )}
      {error && (
        <p id={`${id}error`} role="alert" className="mt-1 text-xs text-failed">
          {error}
        </p>
      )}
    </div>
  )
}
