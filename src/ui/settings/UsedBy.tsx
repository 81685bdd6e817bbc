import { plural } from '@/core/view-models'

/** How many definitions name something of the settings. */
export function UsedBy({ uses }: { uses: number }) {
  if (uses === 0) return <span className="text-soft">nothing</span>
  return plural(uses, 'case or routine', 'cases and routines')
}
