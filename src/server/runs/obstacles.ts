/** What keeps a start from coming to anything, besides seats: what its cases name and Settings does not have.
 * */
import { lackingFor, type FlatItem, type Lacking } from '@/core/model'
import type { Context } from '../context'
import { setUpOf, type Loaded } from '../definitions'
import { Problem } from '../http/problems'

/** @param items what would run */
export async function lackingOf(
  ctx: Pick<Context, 'db'>,
  items: readonly Pick<FlatItem, 'caseKey'>[],
  library: Loaded,
): Promise<Lacking[]> {
  const keys = [...new Set(items.map(({ caseKey }) => caseKey))]
  return lackingFor(
    keys.map((key) => library.case(key)!),
    library.routines,
    await setUpOf(ctx.db),
  )
}

/** Whether each of the cases lacks something: then a start would come to nothing. */
export function isHindered(
  lacking: readonly Lacking[],
  items: readonly Pick<FlatItem, 'caseKey'>[],
): boolean {
  const hindered = new Set(lacking.flatMap(({ cases }) => cases))
  return items.length > 0 && items.every(({ caseKey }) => hindered.has(caseKey))
}

/** "there is no application “shop”, no secret “PIN”; 3 cases name them" */
export function lackingWords(lacking: readonly Lacking[]): string {
  const cases = new Set(lacking.flatMap((one) => one.cases)).size
  const what = lacking.map(({ kind, key }) => `no ${kind} “${key}”`).join(', ')
  return (
    `there is ${what}; ${cases === 1 ? '1 case names' : `${cases} cases name`} ` +
    `${lacking.length === 1 ? 'it' : 'them'}`
  )
}

/** @throws {Problem} NOT_SET_UP when nothing could be carried out */
export function requireSetUp(lacking: readonly Lacking[], items: readonly Pick<FlatItem, 'caseKey'>[]): void {
  if (isHindered(lacking, items))
    throw new Problem('NOT_SET_UP', `Nothing of it could be carried out: ${lackingWords(lacking)}.`, lacking)
}
