'use client'
import type { TriageGroup } from '@/core/view-models'
import { Button, Key } from '../base/Button'
import { useKeys } from '../frame/keys'

/** By one key each. */
const LISTED = 9

/** The cause that this one is the same as, of the others. */
export function SameAs({
  group,
  groups,
  disabled,
  onChoose,
  onClose,
}: {
  group: TriageGroup
  groups: readonly TriageGroup[]
  disabled: boolean
  onChoose(other: TriageGroup): void
  onClose(): void
}) {
  const others = groups.filter(({ signature }) => signature !== group.signature)
  useKeys([
    ...others.slice(0, LISTED).map((other, i) => ({
      key: String(i + 1),
      what: `the same as ${other.title}`,
      off: disabled,
      run: () => onChoose(other),
    })),
    { key: 'Escape', what: 'a cause of its own after all', run: onClose },
  ])
  return (
    <section aria-label="The same as" className="flex flex-col gap-1">
      <p className="text-sm text-soft">
        Failures that say either are one cause from now on, here and in runs to come, until they are taken
        apart.
      </p>
      <ul className="flex max-h-[420px] flex-col gap-1 overflow-auto">
        {others.map((other, i) => (
          <li key={other.signature}>
            <Button
              disabled={disabled}
              onClick={() => onChoose(other)}
              className="!h-auto w-full !px-2 !py-1 text-left !whitespace-normal"
            >
              {i < LISTED && <Key>{String(i + 1)}</Key>}
              <span className="min-w-0 flex-1 first-letter:uppercase">{other.title}</span>
              <span className="text-xs text-soft tabular-nums">{other.failures}</span>
            </Button>
          </li>
        ))}
      </ul>
      <div className="pt-1">
        <Button look="quiet" onClick={onClose}>
          Back
        </Button>
      </div>
    </section>
  )
}
