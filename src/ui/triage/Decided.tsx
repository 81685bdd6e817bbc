'use client'
import Link from '../base/Link'
import type { CauseDecision } from '@/core/view-models'
import { Button } from '../base/Button'
import { Ago } from '../base/Time'
import { DECISION_WORDS } from './decision-words'

/** What somebody decided; of another build it is told, and does not stand. */
export function Decided({
  decision: { as, by, at, build, note, stands, defect },
  onTakeBack,
}: {
  decision: CauseDecision
  onTakeBack: (() => void) | undefined
}) {
  return (
    <div className={stands ? '' : 'mb-2'}>
      <p>
        {!stands && 'Before: '}
        <b className="inline-block font-semibold first-letter:uppercase">{DECISION_WORDS[as]}</b>
      </p>
      {defect && (
        <p className="truncate">
          <Link className="underline" href={`/defects?id=${defect.id}`}>
            {defect.number ?? `Defect ${defect.id}`}: {defect.title}
          </Link>
        </p>
      )}
      <p className="text-soft">
        {by}, <Ago at={at} />
        {note !== '' && `: “${note}”`}
      </p>
      <p className="text-soft">
        {stands ? `Stands for failures of build ${build}` : `Of build ${build}: look again`}
      </p>
      {stands && onTakeBack && (
        <Button look="quiet" className="mt-1 !px-1.5" onClick={onTakeBack}>
          Take back
        </Button>
      )}
    </div>
  )
}
