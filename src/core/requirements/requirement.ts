/** What an application has to do, as somebody wrote it down; and the lists that people bring them in. */
import { csvOfCells, parseTable, unescapedCell } from '../formats'

export const IMPORTANCES = ['must', 'should', 'could'] as const
export type Importance = (typeof IMPORTANCES)[number]

/** `parent`: key of the one it is a part of. */
export type Requirement = { key: string; title: string; parent: string | null; importance: Importance }

/** `row`: 1-based, the first one names the columns. */
export type RowProblem = { row: number; message: string }

export const REQUIREMENTS_MOST = 5000
const [PROBLEMS_MOST, TITLE_CHARS_MOST] = [20, 300]
const KEY = /^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$/
const COLUMNS = ['id', 'title', 'parent', 'importance'] as const

/** Reads a list (CSV): a row a requirement; columns `id` and `title`, and, where wanted, `parent` and
 * `importance` (must, should, could; must where it is empty). Other columns are passed over. Parents may
 * stand anywhere.
 * @returns the requirements in their order, or what is wrong, row by row */
export function readRequirements(text: string): Requirement[] | { problems: RowProblem[] } {
  const table = parseTable(text)
  if ('message' in table) return { problems: [{ row: table.line, message: table.message }] }
  const named = new Map(table.columns.map((column) => [column.toLowerCase(), column]))
  for (const column of ['id', 'title'])
    if (!named.has(column)) return { problems: [{ row: 1, message: `there is no column “${column}”` }] }
  if (table.rows.length > REQUIREMENTS_MOST)
    return { problems: [{ row: 1, message: `more than ${REQUIREMENTS_MOST} requirements` }] }
  const rows = table.rows.map((row) => {
    const [key, title, parent, importance] = COLUMNS.map((column) =>
      unescapedCell((row[named.get(column) ?? ''] ?? '').trim()),
    )
    return {
      key: key!,
      title: title!,
      parent: parent || null,
      importance: (importance || 'must').toLowerCase(),
    }
  })
  const problems = problemsOf(rows)
  return problems.length > 0 ? { problems: problems.slice(0, PROBLEMS_MOST) } : (rows as Requirement[])
}

type Unchecked = Omit<Requirement, 'importance'> & { importance: string }

function problemsOf(rows: readonly Unchecked[]): RowProblem[] {
  const parents = new Map<string, string | null>()
  const first = new Map<string, number>()
  rows.forEach(({ key, parent }, i) => {
    if (!first.has(key)) first.set(key, i + 2)
    parents.set(key, parent)
  })
  return rows.flatMap(({ key, title, parent, importance }, i) => {
    const row = i + 2
    const say = (message: string) => ({ row, message })
    if (!KEY.test(key))
      return say(`“${key}” is no id: letters, digits, dots, dashes and underscores, at most 60`)
    if (first.get(key) !== row) return say(`“${key}” stands in row ${first.get(key)} already`)
    if (title === '') return say(`${key} has no title`)
    if (title.length > TITLE_CHARS_MOST)
      return say(`the title of ${key} is longer than ${TITLE_CHARS_MOST} letters`)
    if (!(IMPORTANCES as readonly string[]).includes(importance))
      return say(`“${importance}” is no importance: ${IMPORTANCES.join(', ')}`)
    if (parent !== null && !first.has(parent))
      return say(`the parent of ${key}, “${parent}”, is not in the list`)
    if (isWithinItself(key, parents)) return say(`${key} is a part of itself, by way of its parents`)
    return []
  })
}

function isWithinItself(key: string, parents: ReadonlyMap<string, string | null>): boolean {
  const seen = new Set<string>()
  for (let at = parents.get(key); at; at = parents.get(at)) {
    if (at === key) return true
    if (seen.has(at)) return false
    seen.add(at)
  }
  return false
}

/** The same list again. */
export const writeRequirements = (requirements: readonly Requirement[]): string =>
  `${csvOfCells([COLUMNS, ...requirements.map((one) => Object.values(cellsOf(one)))])}\r\n`

/** By column, in their order. */
export const cellsOf = ({ key, title, parent, importance }: Requirement): Record<string, string> => ({
  id: key,
  title,
  parent: parent ?? '',
  importance,
})

export type RequirementChanges = { added: string[]; changed: string[]; removed: string[] }

/** What a list would change. An order of its own is no change. */
export function requirementChanges(
  before: readonly Requirement[],
  after: readonly Requirement[],
): RequirementChanges {
  const known = new Map(before.map((one) => [one.key, one]))
  const wanted = new Set(after.map(({ key }) => key))
  const isSame = (a: Requirement, b: Requirement) =>
    a.title === b.title && a.parent === b.parent && a.importance === b.importance
  return {
    added: after.filter(({ key }) => !known.has(key)).map(({ key }) => key),
    changed: after
      .filter((one) => known.has(one.key) && !isSame(known.get(one.key)!, one))
      .map(({ key }) => key),
    removed: before.filter(({ key }) => !wanted.has(key)).map(({ key }) => key),
  }
}
