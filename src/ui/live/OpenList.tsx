'use client'
import { useEffect, useRef } from 'react'
import type { LiveList } from '@/core/live'

/** A list of the page, drawn here: the browser draws it outside of the page, where no picture shows it. */
export function OpenList({
  list,
  style,
  onChoose,
}: {
  list: LiveList
  style: React.CSSProperties
  onChoose(values: string[]): void
}) {
  const chosen = useRef<HTMLButtonElement>(null)
  useEffect(() => chosen.current?.focus(), [list])
  const step = (event: React.KeyboardEvent<HTMLElement>) => {
    const by = { ArrowDown: 'nextElementSibling', ArrowUp: 'previousElementSibling' }[event.key] as
      'nextElementSibling' | 'previousElementSibling' | undefined
    if (!by) return
    event.preventDefault()
    ;(document.activeElement?.parentElement?.[by]?.firstElementChild as HTMLElement | null)?.focus()
  }
  const { left, top, width, height } = style
  return (
    <ul
      aria-label="The list of the page"
      onKeyDown={step}
      className="absolute z-10 max-h-64 overflow-auto rounded-oak border border-line bg-raised py-1 text-sm shadow-sm"
      style={{ left, top: `calc(${top} + ${height})`, minWidth: width }}
    >
      {list.options.map((option, i) => (
        <li key={i}>
          <button
            type="button"
            ref={option.chosen ? chosen : undefined}
            onClick={() => onChoose([option.value])}
            className={`block w-full px-3 py-1 text-left hover:bg-act-wash ${option.chosen ? 'font-semibold' : ''}`}
          >
            {option.label || ' '}
          </button>
        </li>
      ))}
    </ul>
  )
}
