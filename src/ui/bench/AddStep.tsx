'use client'
import { DropdownMenu } from 'radix-ui'
import type { Verb } from '@/core/model'
import { VERB_NAMES, VERBS } from '@/core/model/editing'
import { buttonLook, Key } from '../base/Button'

/** What the new step does is chosen first; the rest is written in its place. */
export function AddStep({
  open,
  onOpen,
  onAdd,
}: {
  open: boolean
  onOpen(open: boolean): void
  onAdd(verb: Verb): void
}) {
  return (
    <DropdownMenu.Root open={open} onOpenChange={onOpen}>
      <DropdownMenu.Trigger className={`${buttonLook('plain')} !h-6 !px-2`}>
        Add a step <Key>a</Key>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className={
            'z-50 grid max-h-[70vh] w-[440px] grid-cols-2 overflow-auto rounded-oak border border-line ' +
            'bg-raised p-1.5 text-sm shadow-lg'
          }
        >
          {VERB_NAMES.map((verb) => (
            <DropdownMenu.Item
              key={verb}
              onSelect={() => onAdd(verb)}
              className="cursor-pointer rounded-[4px] px-2 py-1 outline-none data-[highlighted]:bg-act-wash"
            >
              <b className="font-semibold text-act">{verb}</b>{' '}
              <span className="text-soft">{VERBS[verb].purpose}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
