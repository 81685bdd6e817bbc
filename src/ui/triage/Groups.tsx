'use client'
import { useEffect, useRef } from 'react'
import { plural, type TriageGroup } from '@/core/view-models'
import { DECISION_WORDS } from './decision-words'
import { isDecided } from './useDeciding'

type Props = {
  groups: readonly TriageGroup[]
  chosen: TriageGroup
  /** Others who look at a cause, by its signature. */
  lookers: ReadonlyMap<string, readonly string[]>
  onChoose(group: TriageGroup): void
}

/** The causes in the order of urgency, each with why; those that are decided stand apart. */
export function Groups({ groups, chosen, lookers, onChoose }: Props) {
  const waiting = groups.filter((one) => !isDecided(one))
  const decided = groups.filter(isDecided)
  const list = (label: string, own: readonly TriageGroup[]) =>
    own.length > 0 && (
      <>
        <h2 className="label border-b border-line px-4 py-1.5">
          {label}: {own.length}
        </h2>
        <ol aria-label={label}>
          {own.map((one) => (
            <Group
              key={one.signature}
              group={one}
              lookers={lookers.get(one.signature)}
              isChosen={one.signature === chosen.signature}
              onChoose={() => onChoose(one)}
            />
          ))}
        </ol>
      </>
    )
  return (
    <nav aria-label="Causes" className="min-h-0 overflow-auto border-r border-line bg-surface">
      {list('To decide', waiting)}
      {list('Decided', decided)}
    </nav>
  )
}

function Group({
  group,
  lookers,
  isChosen,
  onChoose,
}: {
  group: TriageGroup
  lookers: readonly string[] | undefined
  isChosen: boolean
  onChoose(): void
}) {
  const { title, failures } = group
  const item = useRef<HTMLLIElement>(null)
  useEffect(() => {
    if (isChosen) item.current?.scrollIntoView({ block: 'nearest' })
  }, [isChosen])
  return (
    <li ref={item} className="border-b border-line">
      <button
        type="button"
        aria-current={isChosen ? 'true' : undefined}
        onClick={onChoose}
        className={
          'w-full px-4 py-2 text-left text-sm ' +
          `${isChosen ? 'bg-act-wash shadow-[inset_3px_0_0_var(--act)]' : 'hover:bg-act-wash/60'}`
        }
      >
        <span className="flex items-baseline gap-2">
          <span className="line-clamp-2 min-w-0 flex-1 font-medium break-words first-letter:uppercase">
            {title}
          </span>
          <span className="shrink-0 font-display tabular-nums">{failures}</span>
        </span>
        <span className="mt-0.5 block text-xs text-soft">
          {reasonsOf(group).join(', ')}
          {group.with && `; with ${group.with.person}`}
          {lookers && `; ${lookers.join(', ')} ${lookers.length === 1 ? 'is' : 'are'} here`}
        </span>
      </button>
    </li>
  )
}

/** Why it stands where it stands, in the order in which that counts. */
function reasonsOf(group: TriageGroup): string[] {
  const { decision, requirements, waiting, likely, cases } = group
  const share = likely.find(({ cause }) => cause === 'product-defect')?.likelihood ?? 0
  return [
    whyOf(group),
    ...(requirements.length > 0 ? [`blocks ${plural(requirements.length, 'requirement')}`] : []),
    ...(waiting.length > 0 ? [waitWords(waiting)] : []),
    ...(decision?.stands ? [] : [`${Math.round(100 * share)} % of the product`]),
    plural(cases, 'case'),
  ]
}

const waitWords = ([first, ...others]: readonly string[]) =>
  others.length === 0 ? `${first!} waits` : `${others.length + 1} people wait`

function whyOf({ decision, isCurrent, isNew, runs }: TriageGroup): string {
  if (decision?.stands) return DECISION_WORDS[decision.as]
  if (decision) return `${DECISION_WORDS[decision.as]} in ${decision.build}: look again`
  if (!isCurrent) return `last in ${runs[0]!.title}, ${runs[0]!.build}`
  if (isNew) return `new in ${runs[0]!.build}`
  return runs.length > 1 ? `in ${runs.length} runs` : runs[0]!.title
}
