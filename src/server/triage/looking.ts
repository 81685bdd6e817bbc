/** Who looks at which cause: so that two people do not decide the same one without knowing of each other. */
import { LOOKING_MS, type LookersViewModel } from '@/core/view-models'
import { dropLooker, lookersNow, noteLooker } from '@/db/lookers'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { validator, type BodyOf } from '../http/validator'

/** Without a signature: at none any more. */
export const lookingBody = validator({
  type: 'object',
  additionalProperties: false,
  properties: { signature: { type: 'string', minLength: 1, maxLength: 400 } },
})

/** Said again and again while somebody looks; others are told only of what changes. */
export async function lookAt(
  { db, now }: Pick<Context, 'db' | 'now'>,
  { signature }: BodyOf<typeof lookingBody>,
  person: string,
): Promise<void> {
  const isNews =
    signature === undefined
      ? await dropLooker(db, person)
      : await noteLooker(db, now, person, signature, LOOKING_MS)
  if (isNews) await notify(db, 'looking')
}

export const lookersViewModel = async ({
  db,
  now,
}: Pick<Context, 'db' | 'now'>): Promise<LookersViewModel> => ({
  lookers: await lookersNow(db, now, LOOKING_MS),
})
