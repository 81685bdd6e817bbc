'use client'
import { Redo2, Undo2 } from 'lucide-react'
import { useEffect } from 'react'
import { plural } from '@/core/view-models'
import { Button } from '../base/Button'
import { useFrame } from '../frame/tools'
import { MoreActions } from './MoreActions'
import type { Draft } from './useDraft'

/** Undo, redo, save: the same for every bench. Ctrl+S saves, Ctrl+Z goes back, also while no field has the
 * focus. */
export function DraftActions({ draft }: { draft: Draft }) {
  const { may } = useFrame()
  const { dirty, problems, canUndo, canRedo, undo, redo, saving } = draft
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey)) return
      const { target } = event
      const typing =
        target instanceof HTMLElement &&
        (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))
      if (event.key === 's') {
        event.preventDefault()
        if (dirty && problems.length === 0 && may('tester')) void draft.save()
      } else if (!typing && event.key.toLowerCase() === 'z') {
        event.preventDefault()
        if (event.shiftKey) redo()
        else undo()
      } else if (!typing && event.key === 'y') {
        event.preventDefault()
        redo()
      }
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  })
  if (!may('tester')) return null
  const saved = dirty ? 'not saved yet' : `version ${draft.viewModel?.version ?? ''}`
  return (
    <>
      <span
        role="status"
        className={`text-xs ${problems.length > 0 ? 'font-semibold text-failed' : 'text-soft'}`}
      >
        {problems.length > 0 ? `${plural(problems.length, 'problem')} in the text` : saved}
      </span>
      <Button
        look="quiet"
        onClick={undo}
        disabled={!canUndo}
        aria-label="Undo"
        hint="Undo (Ctrl+Z)"
        className="!px-1.5"
      >
        <Undo2 size={16} aria-hidden />
      </Button>
      <Button
        look="quiet"
        onClick={redo}
        disabled={!canRedo}
        aria-label="Redo"
        hint="Redo (Ctrl+Y)"
        className="!px-1.5"
      >
        <Redo2 size={16} aria-hidden />
      </Button>
      <Button
        look={dirty ? 'main' : 'plain'}
        onClick={() => void draft.save()}
        disabled={!dirty || saving || problems.length > 0}
        hint="Ctrl+S"
      >
        Save
      </Button>
      <MoreActions draft={draft} />
    </>
  )
}
