'use client'
import Link from '../base/Link'
import { useSyncExternalStore } from 'react'
import type { NowViewModel } from '@/core/view-models'
import { Button, buttonLook } from '../base/Button'
import { useFrame } from '../frame/tools'

/** In this browser: who knows the way needs it no more. */
const LEFT = 'oak-way-to-the-first-run-left'
const listeners = new Set<() => void>()
const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}
const leave = () => {
  localStorage.setItem(LEFT, 'yes')
  listeners.forEach((listener) => listener())
}

type Step = { done: boolean; title: string; words: string; action: React.ReactNode }

/** The way to the first run in a product that is empty: an application, a case, a run. Each step is done by
 * doing it, wherever that is; the way ends with the first run, or when it is left. */
export function Begin({ begin }: { begin: NonNullable<NowViewModel['begin']> }) {
  const { may, start } = useFrame()
  const isLeft = useSyncExternalStore(
    subscribe,
    () => localStorage.getItem(LEFT) !== null,
    () => true,
  )
  if (isLeft) return null
  const steps: Step[] = [
    {
      done: begin.application,
      title: 'An application',
      words: 'Where what you test is, and what your cases call it.',
      action: may('coordinator') && (
        <Link href="/settings?part=applications" className={buttonLook(begin.application ? 'plain' : 'main')}>
          Name it
        </Link>
      ),
    },
    {
      done: begin.case,
      title: 'A case',
      words: 'A few steps on its pages, and what has to be seen there.',
      action: may('tester') && (
        <Link
          href="/suites?show=new&kind=case"
          className={buttonLook(begin.application && !begin.case ? 'main' : 'plain')}
        >
          Write it
        </Link>
      ),
    },
    {
      done: false,
      title: 'A run',
      words: begin.agent
        ? 'On the browsers of this machine; you see each step as it is done.'
        : 'No agent is here yet: Fleet says how one is started.',
      action: may('tester') && (
        <Button
          look={begin.application && begin.case ? 'main' : 'plain'}
          disabled={!begin.case}
          onClick={() => start()}
        >
          Start it
        </Button>
      ),
    },
  ]
  return (
    <section aria-label="The way to the first run" className="border-b border-line bg-surface px-[18px] py-3">
      <div className="flex items-baseline gap-3">
        <h2 className="label">The way to the first run</h2>
        <button type="button" className="ml-auto text-sm text-soft underline" onClick={leave}>
          Leave it
        </button>
      </div>
      <ol className="mt-2 grid grid-cols-3 gap-4">
        {steps.map(({ done, title, words, action }, i) => (
          <li key={title} className="flex items-start gap-3">
            <span
              aria-hidden
              className={
                'mt-0.5 grid size-6 shrink-0 place-items-center rounded-full border text-xs ' +
                `font-semibold ${done ? 'border-passed text-passed-text' : 'border-line text-soft'}`
              }
            >
              {done ? '✓' : i + 1}
            </span>
            <span className="min-w-0 flex-1">
              <b className="font-semibold">{title}</b>
              {done && <span className="text-sm text-passed-text"> done</span>}
              <span className="block text-sm text-soft">{words}</span>
              <span className="mt-1.5 block">{action}</span>
            </span>
          </li>
        ))}
      </ol>
    </section>
  )
}
