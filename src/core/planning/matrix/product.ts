import { BadInput } from '../../compute/fault'
import type { Row, Space } from './space'
import type { RowSolver } from './solver'

/** Nobody plans more environments; a list of them would only fill the memory. */
const ROWS_MOST = 100_000

/** Every combination that keeps the rules, the last axis changing fastest. @throws {BadInput} when there are
 * too many to list */
export function productRows(space: Space, solver: RowSolver): Row[] {
  const count = space.sizes.reduce((product, size) => product * size, 1)
  const rows: Row[] = []
  if (space.forbid.length === 0 && count > ROWS_MOST)
    throw new BadInput([
      {
        path: 'axes',
        message: `they make ${count} combinations; at most ${ROWS_MOST} are listed. Ask for pairs, or add rules`,
      },
    ])
  const row = new Int16Array(space.sizes.length).fill(-1)
  const visit = (factor: number): void => {
    if (factor === space.sizes.length) {
      rows.push(Int16Array.from(row))
      if (rows.length > ROWS_MOST)
        throw new BadInput([
          {
            path: 'axes',
            message: `they make more than ${ROWS_MOST} combinations. Ask for pairs, or add rules`,
          },
        ])
      return
    }
    for (let level = 0; level < space.sizes[factor]!; level++) {
      row[factor] = level
      if (!solver.isRuled(factor) || solver.extend(row)) visit(factor + 1)
    }
    row[factor] = -1
  }
  visit(0)
  return rows
}
