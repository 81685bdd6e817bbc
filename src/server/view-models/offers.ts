import type { BenchViewModel } from '@/core/view-models'
import type { Loaded } from '../definitions'

type Keyed = readonly { key: string }[]

/** What fields of steps offer to choose from. */
export const offersOf = (
  library: Loaded,
  applications: Keyed,
  databases: Keyed,
): BenchViewModel['offers'] => ({
  routines: [...library.routines.values()].map((routine) => ({
    key: routine.key,
    title: routine.title,
    parameters: Object.keys(routine.parameters),
  })),
  tables: [...library.tables.keys()],
  applications: applications.map(({ key }) => key),
  databases: databases.map(({ key }) => key),
  tags: [...new Set(library.allCases().flatMap(({ tags }) => tags))].sort(),
})
