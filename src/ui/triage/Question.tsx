'use client'
import type { TriageGroup } from '@/core/view-models'
import type { Asked } from './DecideColumn'
import { KnownDefects } from './KnownDefects'
import { SameAs } from './SameAs'
import { SetApart, type ChosenPart } from './SetApart'

/** What is asked of a cause before something is decided of it. */
export function Question({
  asks,
  group,
  groups,
  disabled,
  onKnown,
  onSame,
  onPart,
  onClose,
}: {
  asks: Asked
  group: TriageGroup
  groups: readonly TriageGroup[]
  disabled: boolean
  onKnown(defectId: number | undefined): void
  onSame(other: TriageGroup): void
  onPart(part: ChosenPart): void
  onClose(): void
}) {
  switch (asks) {
    case 'known':
      return (
        <KnownDefects
          runId={group.runs[0]!.id}
          signature={group.signature}
          disabled={disabled}
          onChoose={onKnown}
          onClose={onClose}
        />
      )
    case 'same':
      return <SameAs group={group} groups={groups} disabled={disabled} onChoose={onSame} onClose={onClose} />
    case 'part':
      return <SetApart group={group} disabled={disabled} onChoose={onPart} onClose={onClose} />
  }
}
