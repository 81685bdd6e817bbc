'use client'
import dynamic from 'next/dynamic'
import { useEffect, useState } from 'react'
import { whenAtRest } from '../base/at-rest'
import type { FinderAction } from './FinderDialog'

/** Comes when the page is drawn and at rest, or when somebody is quicker: no view shows it at first. */
const load = () => import('./FinderDialog').then((module) => module.FinderDialog)
const FinderDialog = dynamic(load, { ssr: false })

/** Anything that opens the finder fires this; it stands once, in the frame. */
export const openFinder = () => window.dispatchEvent(new Event('oak-finder'))

/** Opens the finder by Ctrl/Cmd+K, and closes it. */
export function Finder({ actions }: { actions: FinderAction[] }) {
  const [open, setOpen] = useState(false)
  useEffect(() => {
    const show = () => setOpen(true)
    const listen = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() === 'k' && (event.ctrlKey || event.metaKey)) {
        event.preventDefault()
        setOpen((old) => !old)
      }
    }
    const takeBack = whenAtRest(() => void load())
    window.addEventListener('keydown', listen)
    window.addEventListener('oak-finder', show)
    return () => {
      takeBack()
      window.removeEventListener('keydown', listen)
      window.removeEventListener('oak-finder', show)
    }
  }, [])
  return open && <FinderDialog actions={actions} onClose={() => setOpen(false)} />
}
