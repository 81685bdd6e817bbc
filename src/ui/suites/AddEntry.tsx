'use client'
import dynamic from 'next/dynamic'
import { Popover } from 'radix-ui'
import { useEffect, useState, type ComponentProps } from 'react'
import { whenAtRest } from '../base/at-rest'
import { buttonLook, Key } from '../base/Button'
import { useKeys } from '../frame/keys'

/** Comes when the page is drawn and at rest, or when somebody is quicker. */
const load = () => import('./EntryFinder').then((module) => module.EntryFinder)
const EntryFinder = dynamic(load, { ssr: false })

/** Finds a case or suite by name and puts it after what is chosen; or makes a group. */
export function AddEntry(props: ComponentProps<typeof EntryFinder>) {
  const [open, setOpen] = useState(false)
  useEffect(() => whenAtRest(() => void load()), [])
  useKeys([{ key: 'a', what: 'add an entry', run: () => setOpen(true) }])
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={`${buttonLook('plain')} !h-6 !px-2`}>
        Add <Key>a</Key>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          aria-label="Add an entry"
          className="z-50 w-[400px] rounded-oak border border-line bg-raised p-1.5 shadow-lg"
        >
          <EntryFinder {...props} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
