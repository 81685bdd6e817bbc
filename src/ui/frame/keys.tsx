'use client'
import dynamic from 'next/dynamic'
import { useLayoutEffect, useRef, useState, useSyncExternalStore } from 'react'
import { Dialog } from '../base/Dialog'
import { Key } from '../base/Button'

/** Comes with the first asking: no view shows it at first. */
const ViewHelp = dynamic(() => import('../help/ViewHelp').then((module) => module.ViewHelp), { ssr: false })

export type KeyAction = { key: string; what: string; run(): void; off?: boolean }

const registered = new Map<symbol, readonly KeyAction[]>()
const listeners = new Set<() => void>()
let snapshot: readonly KeyAction[] = []
function changed() {
  snapshot = [...registered.values()].flat()
  listeners.forEach((listener) => listener())
}

/** Fields that take no letters: a key pressed on one of them is the view's. */
const WITHOUT_LETTERS = ['checkbox', 'radio', 'button', 'range', 'file']

function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false
  if (target instanceof HTMLInputElement) return !WITHOUT_LETTERS.includes(target.type)
  return target.isContentEditable || /^(TEXTAREA|SELECT)$/.test(target.tagName)
}

/** Single keys of a view: they work where no field has the focus and no dialog is open, and "?" lists
 * them. They do what is on the screen by then, not a moment later: hence the effects of layout. */
export function useKeys(actions: readonly KeyAction[]) {
  const current = useRef(actions)
  useLayoutEffect(() => {
    current.current = actions
  })
  const words = actions.map(({ key, what, off }) => `${key} ${what} ${off}`).join('\n')
  useLayoutEffect(() => {
    const id = Symbol()
    registered.set(id, current.current)
    changed()
    const listen = (event: KeyboardEvent) => {
      if (
        event.defaultPrevented || // a tab list, a menu or a tree has used it
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        isTyping(event.target) ||
        document.querySelector('[role=dialog]')
      )
        return
      const action = current.current.find(({ key, off }) => key === event.key && !off)
      if (!action) return
      event.preventDefault()
      action.run()
    }
    window.addEventListener('keydown', listen)
    return () => {
      window.removeEventListener('keydown', listen)
      registered.delete(id)
      changed()
    }
  }, [words])
}

const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}
const NONE: readonly KeyAction[] = []

/** The keys of this view, by "?". */
export function KeysHelp() {
  const [open, setOpen] = useState(false)
  const actions = useSyncExternalStore(
    subscribe,
    () => snapshot,
    () => NONE,
  )
  useKeys([{ key: '?', what: 'the keys of this view', run: () => setOpen(true) }])
  return (
    <>
      <button
        type="button"
        onClick={() => setOpen(true)}
        className="flex w-full flex-col items-center gap-1 rounded-oak py-2 text-[11px] text-rail-ink hover:bg-rail-on"
      >
        <span className="font-mono text-sm leading-4" aria-hidden>
          ?
        </span>
        Keys
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} title="Keys of this view" wide>
        <div className="grid gap-x-8 gap-y-5 sm:grid-cols-2">
          <dl className="grid grid-cols-[auto_1fr] content-start items-center gap-x-4 gap-y-2">
            <dt>
              <Key>Ctrl K</Key>
            </dt>
            <dd>find anything, pages of help too</dd>
            {actions.map(({ key, what }) => (
              <div key={`${key}${what}`} className="contents">
                <dt>
                  <Key>{key}</Key>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
          <ViewHelp onLeave={() => setOpen(false)} />
        </div>
      </Dialog>
    </>
  )
}
