/** Adopting: what a failed check found becomes what it expects, by saving the file in which that is written
 * as its next version. */
import { DEFINITION_KINDS } from '@/core/model'
import { ADOPTED_CHECKS, type AdoptedFile } from '@/core/view-models'
import { note } from '@/db/audit'
import type { Context } from '../context'
import { saveDefinition } from '../definitions'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { proposeAdoption, type Asked } from './propose'

export { proposeAdoption } from './propose'

/** In the audit trail, of each file. */
const ATTEMPTS_NOTED = 50

const WHICH = {
  path: { type: 'string', minLength: 1, maxLength: 500 },
  which: { enum: [...ADOPTED_CHECKS] },
} as const
export const adoptionBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['path', 'which'],
  properties: WHICH,
})
/** `files`: those that were shown, with the versions they were shown in. */
export const adoptBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['path', 'which', 'files'],
  properties: {
    ...WHICH,
    files: {
      type: 'array',
      minItems: 1,
      maxItems: 1000,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['kind', 'key', 'version'],
        properties: {
          kind: { enum: [...DEFINITION_KINDS] },
          key: { type: 'string', maxLength: 200 },
          version: { type: 'integer', minimum: 1 },
        },
      },
    },
  },
})

/** Saves what `proposeAdoption` shows now, when it is what was shown: the same files in the same versions.
 * @returns the new versions, and those before, which undo it
 * @throws {Problem} NOT_FOUND, CHANGED_MEANWHILE; as saving does */
export async function adopt(
  ctx: Context,
  asked: Asked,
  shown: BodyOf<typeof adoptBody>['files'],
  who: string,
): Promise<AdoptedFile[]> {
  const { files } = await proposeAdoption(ctx, asked)
  const idOf = (file: { kind: string; key: string; version: number }) =>
    `${file.kind}:${file.key}@${file.version}`
  const known = new Set(shown.map(idOf))
  if (files.length !== known.size || files.some((file) => !known.has(idOf(file))))
    throw new Problem(
      'CHANGED_MEANWHILE',
      'What would change is not what you saw any more. Nothing was saved; look at it again.',
    )
  const saved: AdoptedFile[] = []
  for (const { kind, key, version, after, changes } of files) {
    const made = await saveDefinition(ctx, kind, key, { source: after, basedOn: version }, who)
    const from = [...new Set(changes.map(({ attemptId }) => attemptId))].slice(0, ATTEMPTS_NOTED)
    await ctx.db.transaction((tx) =>
      note(tx, who, 'check.adopt', key, { version: made.version, attempts: from }),
    )
    saved.push({ kind, key, version: made.version, before: version })
  }
  return saved
}
