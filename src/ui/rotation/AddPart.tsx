'use client'
import { Popover } from 'radix-ui'
import { useState } from 'react'
import type { RotationPart } from '@/core/model'
import type { RotationViewModel } from '@/core/view-models'
import { Button, buttonLook } from '../base/Button'
import { TabList, TabPanel, Tabs } from '../base/Tabs'
import { RuleField } from '../suites/RuleField'

type Kind = 'suite' | 'rule' | 'case'
const SHOWN_MOST = 60

const KINDS = [
  { key: 'suite', label: 'A suite' },
  { key: 'rule', label: 'By a rule' },
  { key: 'case', label: 'A case' },
] satisfies { key: Kind; label: string }[]

/** A suite, a rule or a case more. What is typed narrows the list. */
export function AddPart({
  viewModel,
  onAdd,
}: {
  viewModel: Pick<RotationViewModel, 'suites' | 'cases'>
  onAdd(part: RotationPart): void
}) {
  const [open, setOpen] = useState(false)
  const [kind, setKind] = useState<Kind>('suite')
  const [text, setText] = useState('')
  const [rule, setRule] = useState('smoke')
  const add = (part: RotationPart) => {
    onAdd(part)
    setOpen(false)
    setText('')
  }
  const list = kind === 'suite' ? viewModel.suites : viewModel.cases
  const found = list.filter(({ key, title }) =>
    `${title}\n${key}`.toLowerCase().includes(text.trim().toLowerCase()),
  )
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={buttonLook('plain', '!h-[28px]')}>Add…</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-50 w-[380px] rounded-oak border border-line bg-raised p-3 shadow-lg"
          aria-label="Add what runs"
        >
          <Tabs<Kind> value={kind} onChange={setKind}>
            <TabList label="Kind" look="wash" className="mb-2" tabs={KINDS} />
            <TabPanel value={kind}>
              {kind === 'rule' ? (
                <div className="flex flex-col gap-2">
                  <RuleField live value={rule} onChange={setRule} />
                  <div>
                    <Button
                      look="main"
                      disabled={rule.trim() === ''}
                      onClick={() => add({ rule: rule.trim() })}
                    >
                      Add the rule
                    </Button>
                  </div>
                </div>
              ) : (
                <>
                  <input
                    autoFocus
                    type="search"
                    aria-label={`Find a ${kind}`}
                    placeholder={`Find a ${kind}`}
                    value={text}
                    onChange={({ target }) => setText(target.value)}
                    className="mb-1 h-[28px] w-full rounded-oak border border-line bg-surface px-2 text-sm"
                  />
                  <ul className="max-h-[260px] overflow-auto">
                    {found.slice(0, SHOWN_MOST).map(({ key, title }) => (
                      <li key={key}>
                        <button
                          type="button"
                          onClick={() => add(kind === 'suite' ? { suite: key } : { case: key })}
                          className="flex w-full items-baseline gap-2 rounded-[4px] px-2 py-1 text-left text-sm hover:bg-act-wash"
                        >
                          <span className="truncate">{title}</span>
                          <span className="ml-auto shrink-0 font-mono text-[11px] text-soft">{key}</span>
                        </button>
                      </li>
                    ))}
                  </ul>
                  {found.length === 0 && (
                    <p className="px-2 py-1 text-sm text-soft">Nothing is called like that.</p>
                  )}
                  {found.length > SHOWN_MOST && (
                    <p className="px-2 pt-1 text-xs text-soft">
                      and {found.length - SHOWN_MOST} more: write part of the name
                    </p>
                  )}
                </>
              )}
            </TabPanel>
          </Tabs>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
