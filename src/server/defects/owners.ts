/** Who answers for defects: rules that an administrator sets, else the application each is of. */
import { ownerOf, ownerProblems, type Owner, type OwnerRule } from '@/core/tracker'
import { note } from '@/db/audit'
import { definitionRow } from '@/db/definitions'
import { notify } from '@/db/notify'
import { attemptRow } from '@/db/runs'
import { putSetting, setting } from '@/db/settings'
import { listApplications } from '@/db/workspace'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validatorOf } from '../http/validator'

const KEPT_AS = 'owner-rules'
const RULES_MOST = 200
const text = (maxLength: number) => ({ type: 'string', maxLength }) as const

export const ownersBody = validatorOf<{ rules: OwnerRule[] }>()({
  type: 'object',
  additionalProperties: false,
  required: ['rules'],
  properties: {
    rules: {
      type: 'array',
      maxItems: RULES_MOST,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['application', 'tag', 'folder', 'name', 'mail'],
        properties: {
          application: text(80),
          tag: text(80),
          folder: text(400),
          name: text(80),
          mail: text(200),
        },
      },
    },
  },
})

export const ownerRules = async ({ db }: Pick<Context, 'db'>): Promise<OwnerRule[]> =>
  (await setting<OwnerRule[]>(db, KEPT_AS)) ?? []

/** @throws {Problem} BODY_INVALID: with what is wrong with them */
export async function putOwnerRules(
  ctx: Pick<Context, 'db'>,
  given: OwnerRule[],
  who: string,
): Promise<void> {
  const rules = given.map(({ application, tag, folder, name, mail }) => ({
    application,
    tag: tag.trim(),
    folder: folder.trim(),
    name: name.trim(),
    mail: mail.trim(),
  }))
  const problems = ownerProblems(rules)
  if (problems.length > 0) throw new Problem('BODY_INVALID', problems.join(' '))
  await ctx.db.transaction(async (tx) => {
    await putSetting(tx, KEPT_AS, rules)
    await note(tx, who, 'owners.put', KEPT_AS, { rules: rules.length })
    await notify(tx, 'settings')
  })
}

/** Of a failure, by the application it happened in and the case as it is now. */
export async function ownerOfFailure(
  { db }: Pick<Context, 'db'>,
  { caseKey, application, tags }: { caseKey: string; application: string | null; tags?: readonly string[] },
): Promise<Owner | null> {
  const [rules, applications, definition] = await Promise.all([
    ownerRules({ db }),
    listApplications(db),
    definitionRow(db, 'case', caseKey),
  ])
  const document = definition?.document
  const known = tags ?? (document?.kind === 'case' ? document.tags : [])
  return ownerOf(rules, { application, tags: known, file: definition?.file ?? '' }, applications)
}

/** Of a defect that was logged from an attempt; `null`: nobody is named, or the attempt is gone. */
export async function ownerOfDefect(
  { db }: Pick<Context, 'db'>,
  { attemptId, caseKey }: { attemptId: string | null; caseKey: string },
): Promise<Owner | null> {
  const attempt = attemptId === null ? undefined : await attemptRow(db, attemptId)
  return ownerOfFailure({ db }, { caseKey, application: attempt?.failureApplication ?? null })
}
