'use client'
import type { KnownDefect } from '@/core/view-models'
import { useViewModel } from '../api'
import { Button, Key } from '../base/Button'
import { Problem } from '../base/Parts'
import { useKeys } from '../frame/keys'

/** @param onChoose which of them it is; nothing: one that is not among these */
export function KnownDefects({
  runId,
  signature,
  disabled,
  onChoose,
  onClose,
}: {
  runId: number
  signature: string
  disabled: boolean
  onChoose(defectId: number | undefined): void
  onClose(): void
}) {
  const path = `/api/runs/${runId}/causes/known?signature=${encodeURIComponent(signature)}`
  const { data, error } = useViewModel<KnownDefect[]>(path, ['defects'])
  const known = data ?? []
  useKeys([
    ...known.map(({ id }, i) => ({
      key: String(i + 1),
      what: `it is the known defect ${i + 1}`,
      off: disabled,
      run: () => onChoose(id),
    })),
    { key: '0', what: 'a known defect that is not listed', off: disabled, run: () => onChoose(undefined) },
    { key: 'Escape', what: 'no known defect after all', run: onClose },
  ])
  return (
    <section aria-label="Which known defect" className="flex flex-col gap-1">
      {error && <Problem>{error.message}</Problem>}
      {!data && !error && <p className="text-sm text-soft">Looking for defects like it…</p>}
      {data?.length === 0 && <p className="text-sm text-soft">None of those that were logged is like it.</p>}
      <ul className="flex flex-col gap-1">
        {known.map(({ id, title, number, state, likeness, because }, i) => (
          <li key={id}>
            <Button
              disabled={disabled}
              onClick={() => onChoose(id)}
              className="!h-auto w-full flex-wrap !gap-x-2 !px-2 !py-1 text-left !whitespace-normal"
            >
              <span className="flex w-full items-center gap-2">
                <Key>{String(i + 1)}</Key>
                <span className="min-w-0 flex-1">
                  {number ?? `Defect ${id}`}: {title}
                </span>
                <span className="text-xs text-soft tabular-nums">{Math.round(likeness * 100)} %</span>
              </span>
              <span className="w-full pl-6 text-xs font-normal text-soft">
                {state}; {because}
              </span>
            </Button>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-1.5 pt-1">
        <Button keyHint="0" disabled={disabled} onClick={() => onChoose(undefined)}>
          Another one
        </Button>
        <Button look="quiet" onClick={onClose}>
          Back
        </Button>
      </div>
    </section>
  )
}
