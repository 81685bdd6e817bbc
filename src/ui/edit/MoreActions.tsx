'use client'
import { Ellipsis } from 'lucide-react'
import dynamic from 'next/dynamic'
import { DropdownMenu } from 'radix-ui'
import { useState } from 'react'
import { buttonLook } from '../base/Button'
import type { Draft } from './useDraft'

const CopyDialog = dynamic(() => import('./CopyDialog').then((module) => module.CopyDialog), { ssr: false })
const MoveDialog = dynamic(() => import('./MoveDialog').then((module) => module.MoveDialog), { ssr: false })
const RemoveDialog = dynamic(() => import('./RemoveDialog').then((module) => module.RemoveDialog), {
  ssr: false,
})

type Asked = 'copy' | 'move' | 'remove'

/** What one does to a definition as a whole, and seldom: copy it, give it to a repository, remove it. */
export function MoreActions({ draft }: { draft: Draft }) {
  const [asked, setAsked] = useState<Asked>()
  const { viewModel } = draft
  if (!viewModel) return null
  const item =
    'cursor-pointer rounded-[4px] px-2.5 py-1.5 outline-none data-[highlighted]:bg-act-wash ' +
    'data-[disabled]:cursor-default data-[disabled]:text-faint'
  const close = () => setAsked(undefined)
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger aria-label="More to do with it" className={buttonLook('quiet', '!px-1.5')}>
          <Ellipsis size={16} aria-hidden />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            sideOffset={4}
            className="z-50 min-w-[220px] rounded-oak border border-line bg-raised p-1.5 text-sm shadow-lg"
          >
            <DropdownMenu.Item className={item} onSelect={() => setAsked('copy')}>
              Copy under another name
            </DropdownMenu.Item>
            {!viewModel.repository && (
              <DropdownMenu.Item
                className={item}
                disabled={viewModel.repositories.length === 0}
                onSelect={() => setAsked('move')}
              >
                Move to a repository
              </DropdownMenu.Item>
            )}
            <DropdownMenu.Item className={item} onSelect={() => setAsked('remove')}>
              Remove
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {asked === 'copy' && <CopyDialog draft={draft} onClose={close} />}
      {asked === 'move' && <MoveDialog draft={draft} onClose={close} />}
      {asked === 'remove' && <RemoveDialog draft={draft} onClose={close} />}
    </>
  )
}
