'use client'
import { DropdownMenu } from 'radix-ui'
import type { Verb } from '@/core/model'
import { buttonLook, Key } from '../base/Button'
import { VERB_ORDER } from './step-forms'

const WORDS: Partial<Record<Verb, string>> = {
  click: 'a button, a link',
  type: 'into a field',
  choose: 'of a list, or a tick',
  check: 'that something is so',
  open: 'a page',
  press: 'a key',
  wait: 'for something, or a time',
  read: 'a value for later',
  use: 'a routine',
  block: 'steps under a title',
  if: 'steps on a condition',
  repeat: 'steps several times',
  call: 'an application’s API',
  query: 'its tables',
  hover: 'over something',
  drag: 'from here to there',
  upload: 'a file',
  scroll: 'to something',
  dialog: 'answer the next one',
  note: 'words for the log',
  do: 'by a person, in a guided run',
  meet: 'the other roles of a joint case',
}

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
          className="z-50 grid max-h-[70vh] w-[440px] grid-cols-2 overflow-auto rounded-oak border border-line bg-raised p-1.5 text-sm shadow-lg"
        >
          {VERB_ORDER.map((verb) => (
            <DropdownMenu.Item
              key={verb}
              onSelect={() => onAdd(verb)}
              className="cursor-pointer rounded-[4px] px-2 py-1 outline-none data-[highlighted]:bg-act-wash"
            >
              <b className="font-semibold text-act">{verb}</b>{' '}
              <span className="text-soft">{WORDS[verb]}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
