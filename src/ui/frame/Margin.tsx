'use client'
import { PanelRightClose, PanelRightOpen } from 'lucide-react'
import { useSyncExternalStore } from 'react'
import { useKeys } from './keys'
import { Hint } from '../base/Hint'

const listeners = new Set<() => void>()
const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}
const nameOf = (view: string) => `oak-margin-${view}`

/** Whether a view's margin is open: remembered per view in this browser, toggled by "m". */
export function useMargin(view: string): { open: boolean; toggle(): void } {
  const open = useSyncExternalStore(
    subscribe,
    () => localStorage.getItem(nameOf(view)) !== 'closed',
    () => true,
  )
  const toggle = () => {
    localStorage.setItem(nameOf(view), open ? 'closed' : 'open')
    listeners.forEach((listener) => listener())
  }
  useKeys([{ key: 'm', what: open ? 'close the margin' : 'open the margin', run: toggle }])
  return { open, toggle }
}

export function MarginToggle({ open, toggle }: { open: boolean; toggle(): void }) {
  const Icon = open ? PanelRightClose : PanelRightOpen
  return (
    <Hint text={open ? 'Close the margin (m)' : 'Open the margin (m)'}>
      <button
        type="button"
        onClick={toggle}
        aria-pressed={open}
        aria-label="Margin"
        className="rounded-oak p-1.5 text-soft hover:bg-act-wash hover:text-ink"
      >
        <Icon size={17} strokeWidth={1.7} aria-hidden />
      </button>
    </Hint>
  )
}
