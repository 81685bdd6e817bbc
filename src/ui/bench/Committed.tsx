'use client'
import { useEffect, useRef, useState } from 'react'
import { TextArea, TextField } from '../base/fields'

/** A field that is taken over when it is left or Enter is pressed: each change is one step of undo, not each
 * letter. Escape gives the old text back. */
export function Committed({
  id,
  value,
  onCommit,
  hint,
  long = false,
  narrow = false,
  needed = false,
  label,
}: {
  id?: string
  value: string
  onCommit(written: string): void
  hint?: string | undefined
  long?: boolean
  narrow?: boolean
  /** It cannot be empty: emptied, the old text comes back. */
  needed?: boolean
  label?: string
}) {
  const [written, setWritten] = useState(value)
  const [from, setFrom] = useState(value)
  const latest = useRef({ written, value, needed, onCommit })
  useEffect(() => {
    latest.current = { written, value, needed, onCommit }
  })
  // Taken away while it is being written into (another line was chosen): what was written still counts.
  useEffect(
    () => () => {
      const { written: last, value: kept, onCommit: commit } = latest.current
      if (last !== kept && !(latest.current.needed && last.trim() === '')) commit(last)
    },
    [],
  )
  if (value !== from) {
    setFrom(value)
    setWritten(value)
  }
  const commit = () => {
    if (needed && written.trim() === '') setWritten(value)
    else if (written !== value) onCommit(written)
  }
  const keys = (event: React.KeyboardEvent) => {
    if (event.key === 'Enter' && !(long && event.shiftKey)) {
      event.preventDefault()
      commit()
    }
    if (event.key === 'Escape' && written !== value) {
      event.stopPropagation()
      setWritten(value)
    }
  }
  const shared = {
    id,
    'aria-label': label,
    value: written,
    placeholder: hint,
    onBlur: commit,
    onKeyDown: keys,
    spellCheck: false,
    onChange: ({ target }: React.ChangeEvent<HTMLInputElement | HTMLTextAreaElement>) =>
      setWritten(target.value),
  }
  return long ? (
    <TextArea {...shared} rows={2} mono />
  ) : (
    <TextField {...shared} mono={/\$\{/.test(written)} {...(narrow && { width: 'w-40' })} />
  )
}
