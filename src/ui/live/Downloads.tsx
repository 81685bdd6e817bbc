'use client'
import { Download } from 'lucide-react'
import { Button } from '../base/Button'
import type { Order } from './useLiveLine'

const SHOWN = 4

/** What the page has downloaded, for the person's own machine. */
export function Downloads({
  names,
  disabled,
  say,
}: {
  names: readonly string[]
  disabled: boolean
  say(order: Order): void
}) {
  if (names.length === 0) return null
  const [shown, more] = [names.slice(-SHOWN), names.length - SHOWN]
  return (
    <section aria-label="Downloaded" className="flex flex-wrap items-center gap-1.5">
      Downloaded
      {shown.map((name, i) => (
        <Button
          key={i}
          className="!h-7 max-w-64 !px-2"
          disabled={disabled}
          onClick={() => say({ do: 'take', name })}
        >
          <Download size={13} aria-hidden className="shrink-0" />
          <span className="truncate">{name}</span>
        </Button>
      ))}
      {more > 0 && <span>and {more} before</span>}
    </section>
  )
}
