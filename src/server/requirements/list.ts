/** The list of requirements: taken from a file as a whole, and given back as one. */
import { readRequirements, cellsOf, requirementChanges, writeRequirements } from '@/core/requirements'
import type { RequirementsTaken, RequirementTitle } from '@/core/view-models'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import {
  casesWithRequirements,
  listRequirements,
  lockRequirements,
  replaceRequirements,
} from '@/db/requirements'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { asWorkbook } from '../reports/formats'
import { asFile } from '../reports/reporting'

export const listBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['list', 'look'],
  properties: {
    /** CSV. */
    list: { type: 'string', maxLength: 2_000_000 },
    /** Only tells what it would change. */
    look: { type: 'boolean' },
  },
})

/** What each requirement asks, in the order of the list: for who names one in a case. */
export const requirementTitles = async ({ db }: Pick<Context, 'db'>): Promise<RequirementTitle[]> =>
  (await listRequirements(db)).map(({ key, title }) => ({ key, title }))

/** In place of the list that is there. @throws {Problem} BODY_INVALID, with the rows; then nothing changed */
export async function takeRequirements(
  ctx: Pick<Context, 'db'>,
  { list, look }: BodyOf<typeof listBody>,
  who: string,
): Promise<RequirementsTaken> {
  const read = readRequirements(list)
  if ('problems' in read) {
    const [first] = read.problems
    throw new Problem('BODY_INVALID', `Row ${first!.row}: ${first!.message}.`, read.problems)
  }
  return ctx.db.transaction(async (tx) => {
    await lockRequirements(tx)
    const before = await listRequirements(tx)
    const cases = await casesWithRequirements(tx)
    const changes = requirementChanges(before, read)
    const gone = new Set(changes.removed)
    if (!look) {
      await replaceRequirements(tx, read)
      const { added, changed, removed } = changes
      const counts = { added: added.length, changed: changed.length, removed: removed.length }
      await note(tx, who, 'requirements.take', '', counts)
      await notify(tx, 'release')
    }
    return {
      ...changes,
      all: read.length,
      wouldLose: cases
        .filter(({ requires }) => requires.some((key) => gone.has(key)))
        .map(({ title }) => title),
    }
  })
}

/** @param as xlsx, or csv */
export async function serveRequirements(ctx: Pick<Context, 'db'>, as: string | null): Promise<Response> {
  const list = await listRequirements(ctx.db)
  if (as !== 'xlsx') return asFile(writeRequirements(list), 'text/csv; charset=utf-8', 'requirements.csv')
  const head = ['id', 'title', 'parent', 'importance']
  const rows = [head, ...list.map((one) => head.map((column) => cellsOf(one)[column] ?? ''))]
  return asWorkbook([{ name: 'Requirements', rows }], 'requirements.xlsx')
}
