/** Views that people keep under a name. */

/** The pages of which views are kept. */
export const VIEWED_PAGES = ['defects'] as const
export type ViewedPage = (typeof VIEWED_PAGES)[number]
/** `query`: what follows the question mark of its address. */
export type SavedView = { id: number; name: string; query: string; by: string }

const QUERY_MOST = 1000

/** The query of an address without what is chosen in the list just now, in an order that is always the same:
 * two that show the same are equal. */
export function queryOfView(search: string, leftOut: readonly string[]): string {
  const given = [...new URLSearchParams(search)].filter(([name]) => !leftOut.includes(name))
  return new URLSearchParams(given.toSorted(([a], [b]) => (a < b ? -1 : 1))).toString().slice(0, QUERY_MOST)
}
