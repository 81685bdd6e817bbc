/** How the tracker of this workspace names things. */
import { mappingProblems, STANDARD_MAPPING, type DefectFacts, type TrackerMapping } from '@/core/tracker'
import { note } from '@/db/audit'
import type { DefectRow } from '@/db/defects'
import { notify } from '@/db/notify'
import { putSetting, setting } from '@/db/settings'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validatorOf } from '../http/validator'
import { ownerOfDefect } from './owners'

const KEPT_AS = 'tracker-mapping'
const word = { type: 'string', maxLength: 100 } as const
const words = { type: 'array', items: { ...word, minLength: 1 }, maxItems: 20 } as const

export const mappingBody = validatorOf<TrackerMapping>()({
  type: 'object',
  additionalProperties: false,
  required: ['states', 'severities', 'fields', 'people', 'attach'],
  properties: {
    states: {
      type: 'object',
      additionalProperties: false,
      required: ['closed', 'saidFixed', 'close', 'reopen'],
      properties: { closed: words, saidFixed: words, close: word, reopen: word },
    },
    severities: {
      type: 'object',
      additionalProperties: false,
      required: [],
      properties: { low: word, normal: word, high: word, critical: word },
    },
    fields: {
      type: 'array',
      maxItems: 30,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['name', 'value'],
        properties: { name: word, value: { type: 'string', maxLength: 1000 } },
      },
    },
    people: {
      type: 'object',
      required: [],
      maxProperties: 500,
      propertyNames: { type: 'string', maxLength: 100 },
      additionalProperties: word,
    },
    attach: { type: 'boolean' },
  },
})

export const trackerMapping = async ({ db }: Pick<Context, 'db'>): Promise<TrackerMapping> => ({
  ...STANDARD_MAPPING, // what was kept before may lack some
  ...(await setting<TrackerMapping>(db, KEPT_AS)),
})

/** @throws {Problem} BODY_INVALID: with what is wrong with it */
export async function putTrackerMapping(ctx: Context, mapping: TrackerMapping, who: string): Promise<void> {
  const problems = mappingProblems(mapping)
  if (problems.length > 0) throw new Problem('BODY_INVALID', problems.join(' '))
  await ctx.db.transaction(async (tx) => {
    await putSetting(tx, KEPT_AS, mapping)
    await note(tx, who, 'tracker.map', KEPT_AS)
  })
  await notify(ctx.db, 'settings')
}

/** What fields of a tracker may say of a defect. */
export async function factsOf({ db }: Pick<Context, 'db'>, defect: DefectRow): Promise<DefectFacts> {
  const owner = await ownerOfDefect({ db }, defect)
  const { title, severity, environment, build, caseKey, createdBy } = defect
  return { title, severity, environment, build, case: caseKey, person: createdBy, owner: owner?.name ?? '' }
}
