/** What failed checks found, proposed as what they expect: the files it would change, each with its new
 * text. */
import { type DefinitionKind } from '@/core/model'
import { adoptionOf, withAdopted, type Adoption } from '@/core/model/files'
import type { AdoptedChecks, AdoptionViewModel } from '@/core/view-models'
import { definitionsTexts } from '@/db/definitions'
import {
  definitionsOfRun,
  failedChecksOfAttempt,
  failedChecksOfRun,
  type FailedCheckRow,
} from '@/db/failed-checks'
import { attemptRow } from '@/db/runs'
import type { Context } from '../context'
import { loadLibrary, type Loaded } from '../definitions'
import { Problem } from '../http/problems'
import { sameCauseAs } from '../triage'

/** A failed check, by its attempt and its path in the log. */
export type Asked = { attemptId: string; path: string; which: AdoptedChecks }

/** @throws {Problem} NOT_FOUND */
export async function proposeAdoption(ctx: Context, asked: Asked): Promise<AdoptionViewModel> {
  const attempt = await attemptRow(ctx.db, asked.attemptId)
  if (!attempt) throw new Problem('NOT_FOUND', 'There is no such attempt.')
  const [own, library, frozen] = await Promise.all([
    failedChecksOfAttempt(ctx.db, asked.attemptId),
    loadLibrary(ctx),
    definitionsOfRun(ctx.db, attempt.runId),
  ])
  const one = own.find(({ path }) => path === asked.path)
  if (!one || !frozen) throw new Problem('NOT_FOUND', 'There is no such check that failed.')
  const checks = asked.which === 'one' ? [one] : innermost(await failedChecksOfRun(ctx.db, attempt.runId))
  const chosen = await chosenOf(ctx, asked, one, checks, attempt.runId)
  return proposed(ctx, chosen, library, frozen)
}

async function chosenOf(
  ctx: Context,
  { which, attemptId }: Asked,
  one: FailedCheckRow,
  checks: readonly FailedCheckRow[],
  runId: number,
): Promise<readonly FailedCheckRow[]> {
  if (which === 'alike')
    return checks.filter(({ expected, actual }) => expected === one.expected && actual === one.actual)
  if (which !== 'cause') return checks
  const { failures: members } = await sameCauseAs(ctx, runId, attemptId)
  return checks.filter((check) => members.get(check.attemptId) === check.path)
}

/** Without the blocks and routines that failed because a check in them did. */
const innermost = (checks: readonly FailedCheckRow[]): FailedCheckRow[] => {
  const around = new Set(
    checks.map(({ attemptId, path }) => `${attemptId} ${path.slice(0, path.lastIndexOf('.'))}`),
  )
  return checks.filter(({ attemptId, path }) => !around.has(`${attemptId} ${path}`))
}

type Frozen = NonNullable<Awaited<ReturnType<typeof definitionsOfRun>>>
type Proposed = FailedCheckRow & { adoption: Adoption }
const idOf = ({ kind, key }: { kind: string; key: string }) => `${kind}:${key}`

async function proposed(
  ctx: Context,
  checks: readonly FailedCheckRow[],
  library: Loaded,
  frozen: Frozen,
): Promise<AdoptionViewModel> {
  const byFile = new Map<string, Proposed[]>()
  const refused: AdoptionViewModel['refused'] = []
  const refuse = (check: FailedCheckRow, why: string) => void refused.push({ ...placeOf(check), why })
  const values = new Map<string, string>()
  for (const check of checks) {
    const found = adoptionFor(check, library, frozen)
    if ('why' in found) {
      refuse(check, found.why)
      continue
    }
    const place = JSON.stringify([found.file, { ...found.change, value: null }])
    const other = values.get(place)
    if (other !== undefined && other !== found.becomes) {
      refuse(check, `“${other}” was found there as well, and only one can be expected`)
      continue
    }
    values.set(place, found.becomes)
    const list = byFile.get(idOf(found.file)) ?? []
    byFile.set(idOf(found.file), [...list, { ...check, adoption: found }])
  }
  return { files: await textsOf(ctx, [...byFile.values()]), refused }
}

function adoptionFor(check: FailedCheckRow, library: Loaded, frozen: Frozen) {
  const testCase = frozen.cases[check.caseKey]
  if (!testCase) return { why: 'its case is not kept with its run' }
  const table = tableOf(check, library)
  return adoptionOf(
    {
      path: check.path,
      role: check.role,
      actual: check.actual,
      message: check.message,
      testCase,
      routines: Object.values(frozen.routines),
      given: check.parameters,
      ...(table !== undefined && { table }),
      ...(check.row && check.rowIndex !== null && { row: { index: check.rowIndex, values: check.row } }),
    },
    { testCase: library.case(check.caseKey), routineOf: (key) => library.routines.get(key) },
  )
}

/** The table its row is of, told by the row itself: the case's own, or one that a suite has for it.
 * @returns nothing when none has that row today, or several do */
function tableOf({ caseKey, row, rowIndex }: FailedCheckRow, library: Loaded): string | undefined {
  if (!row || rowIndex === null) return undefined
  const text = JSON.stringify(row)
  const own = library.case(caseKey)?.data
  const isIt = (name: string | undefined) =>
    name !== undefined && JSON.stringify(library.table(name)?.rows[rowIndex - 1]) === text
  if (isIt(own)) return own
  const others = [...library.tables.keys()].filter((name) => isIt(name))
  return others.length === 1 ? others[0] : undefined
}

const placeOf = ({ attemptId, path, title, environment }: FailedCheckRow) => ({
  attemptId,
  path,
  title,
  environment,
})

/** The texts of these files before and after: all of them by one query. */
async function textsOf(ctx: Context, files: readonly Proposed[][]): Promise<AdoptionViewModel['files']> {
  const wanted = files.map(([first]) => first!.adoption.file as { kind: DefinitionKind; key: string })
  const texts = new Map((await definitionsTexts(ctx.db, wanted)).map((row) => [idOf(row), row]))
  return files.flatMap((list) => {
    const { file } = list[0]!.adoption
    const row = texts.get(idOf(file))
    if (!row) return [] // removed just now
    const different = [...new Map(list.map(({ adoption }) => [JSON.stringify(adoption), adoption])).values()]
    return [
      {
        kind: row.kind,
        key: row.key,
        version: row.version,
        before: row.source,
        after: withAdopted(row.source, file, different),
        changes: list.map(({ adoption: { where, was, becomes }, ...check }) => ({
          ...placeOf(check as FailedCheckRow),
          where,
          was,
          becomes,
        })),
      },
    ]
  })
}
