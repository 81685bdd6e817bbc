import { parseDefinition } from '@/core/model/files'
import { allRows, listRepositories, putDefinitions } from '@/db/definitions'
import { putSetting, setting } from '@/db/settings'
import type { Context } from '../context'
import { fileNameOf } from './save'
import { readRepository } from './repository'

/** Counts up when what is read out of a text changes its shape: texts are kept, so that they can be read
 * anew. */
const FORMAT = 3

/** After an upgrade: every text is read anew, and every repository once more for kinds of files that were not
 * read before. */
export async function refreshDefinitions(ctx: Context): Promise<void> {
  if ((await setting<number>(ctx.db, 'definition-format')) === FORMAT) return
  const rows = await allRows(ctx.db)
  await putDefinitions(
    ctx.db,
    rows.flatMap((row) => {
      const { definition } = parseDefinition(fileNameOf(row.kind, row.key), row.source)
      return definition ? [{ ...row, document: definition }] : []
    }),
  )
  // one that cannot be reached is read when it is asked for
  for (const { id } of await listRepositories(ctx.db)) await readRepository(ctx, id).catch(() => {})
  await putSetting(ctx.db, 'definition-format', FORMAT)
}
