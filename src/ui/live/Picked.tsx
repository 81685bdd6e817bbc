'use client'
import { describeStep, describeTarget, type Step } from '@/core/model'
import { proposedChecks, stepsBefore, waysOf, type ElementFacts } from '@/core/live'
import { Button } from '../base/Button'

type Props = {
  facts: ElementFacts
  onAdd(steps: Step[]): void
  onClose(): void
}

/** What was picked on the picture: how it is found, and what could be checked of it. */
export function Picked({ facts, onAdd, onClose }: Props) {
  const ways = waysOf(facts)
  const proposals = proposedChecks(facts)
  const before = stepsBefore(facts)
  return (
    <section aria-label="What was picked" className="border-b border-line px-[14px] py-3">
      <h2 className="label mb-1">What was picked</h2>
      <ul className="mb-2 flex flex-wrap gap-1.5">
        {ways.map(({ target, count, generated }, i) => (
          <li
            key={i}
            className={
              'max-w-full truncate rounded-full border border-line px-2 py-px font-mono text-xs ' +
              `${count === 1 && !generated ? '' : 'text-soft line-through'}`
            }
          >
            {describeTarget(target)}
            <span className="sr-only">{wayWords(count, generated)}</span>
          </li>
        ))}
      </ul>
      {proposals.length === 0 && (
        <p className="text-sm text-soft">Nothing tells this element from others of the page.</p>
      )}
      {facts.shownBy && (
        <p className="mb-1 text-sm text-soft">
          Seen only while the pointer is on {describeTarget(facts.shownBy)}: the pointer goes there first.
        </p>
      )}
      <ul className="flex flex-col gap-1">
        {proposals.map(({ words, step }) => (
          <li key={words} className="flex items-center gap-2 text-sm">
            <span className="min-w-0 flex-1 truncate">{words}</span>
            <Button
              className="!h-7 !px-2"
              aria-label={`Add: ${describeStep(step).verb} ${words}`}
              onClick={() => onAdd([...before, step])}
            >
              Add
            </Button>
          </li>
        ))}
      </ul>
      <Button look="quiet" className="mt-1 !h-7 !px-2" onClick={onClose}>
        Close
      </Button>
    </section>
  )
}

function wayWords(count: number, generated: boolean): string {
  if (generated) return ', made by a program: another one tomorrow'
  return count === 1 ? ', found once' : `, finds ${count}`
}
