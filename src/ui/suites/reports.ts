import { plural, type FoundViewModel } from '@/core/view-models'

/** What a reading of a repository answers. */
export type Report = { found: FoundViewModel[]; problems: unknown[] }

export const FOUND_WORDS: Record<FoundViewModel['what'], string> = {
  new: 'new',
  changed: 'changed',
  moved: 'moved',
  removed: 'removed',
  conflict: 'in conflict',
}

/** “3 new, 1 changed; 2 problems” */
export function summaryOf({ found, problems }: Report): string {
  const counts = (Object.keys(FOUND_WORDS) as FoundViewModel['what'][]).flatMap((what) => {
    const n = found.filter((one) => one.what === what).length
    return n > 0 ? [`${n} ${FOUND_WORDS[what]}`] : []
  })
  return `${counts.join(', ') || 'nothing changed'}${problems.length > 0 ? `; ${plural(problems.length, 'problem')}` : ''}`
}
