'use client'
import { memo, useEffect, useRef } from 'react'
import { isJudged } from '@/core/guided'
import { Mark, MARK_WORDS } from '../base/Mark'
import type { SheetAction, SheetState } from './sheet-state'
import { MARK_OF } from './verdicts'

type Props = { state: SheetState; act(action: SheetAction): void }

/** All steps of the case in their order, with what was said of each. The clock beside them ticks: they are
 * not drawn again for it. */
export const SheetSteps = memo(function StepList({ state, act }: Props) {
  const { steps, said, selected } = state
  const list = useRef<HTMLOListElement>(null)
  useEffect(() => {
    list.current?.querySelector('[aria-current=step]')?.scrollIntoView({ block: 'nearest' })
  }, [selected])
  return (
    <ol ref={list} aria-label="Steps" className="min-h-0 flex-1 overflow-auto py-1.5 text-sm">
      {steps.map((step) => {
        const { path, depth, words, otherwise } = step
        const one = said[path]
        const mark = one ? MARK_OF[one.is] : 'waiting'
        const text = (
          <>
            {otherwise && <span className="text-soft">otherwise </span>}
            {words.verb !== 'do' && words.verb !== '' && <span className="text-soft">{words.verb} </span>}
            {words.object}
            {words.detail && <span className="text-soft"> {words.detail}</span>}
          </>
        )
        const indent = { paddingLeft: `${14 + depth * 16}px` }
        if (!isJudged(step))
          return (
            <li key={path} style={indent} className="py-[3px] pr-3 text-soft">
              {text}
            </li>
          )
        return (
          <li key={path}>
            <button
              type="button"
              aria-current={path === selected ? 'step' : undefined}
              onClick={() => act({ do: 'select', path })}
              style={indent}
              className={
                'flex w-full items-baseline gap-2 py-[3px] pr-3 text-left ' +
                `${path === selected ? 'bg-act-wash shadow-[inset_3px_0_0_var(--act)]' : 'hover:bg-ground'}`
              }
            >
              <Mark mark={mark} silent />
              <span className="min-w-0 flex-1">{text}</span>
              <span className="sr-only">{one ? MARK_WORDS[mark] : 'not judged yet'}</span>
            </button>
          </li>
        )
      })}
    </ol>
  )
})
