/** Labels of the versions under test. */
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { addBuild as add, dropBuild } from '@/db/workspace'
import type { Context } from './context'
import { Problem } from './http/problems'
import { validator } from './http/validator'

export const buildBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['label'],
  properties: { label: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$' } },
})

/** From now on the newest build, unless it was known before. @returns whether it is new */
export async function addBuild(ctx: Context, label: string, who: string): Promise<boolean> {
  const isNew = await ctx.db.transaction(async (tx) => {
    const added = await add(tx, label)
    if (added) await note(tx, who, 'build.add', label)
    return added
  })
  if (isNew) await notify(ctx.db, 'settings')
  return isNew
}

/** Runs of it stay. @throws {Problem} NOT_FOUND */
export async function removeBuild(ctx: Context, label: string, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await dropBuild(tx, label))) throw new Problem('NOT_FOUND', `There is no build “${label}”.`)
    await note(tx, who, 'build.remove', label)
  })
  await notify(ctx.db, 'settings')
}
