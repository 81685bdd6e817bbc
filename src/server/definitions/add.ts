import { rm } from 'node:fs/promises'
import {
  addRepository as insert,
  changeRepository as change,
  dropRepository,
  editedOf,
  listRepositories,
  repositoryById,
} from '@/db/definitions'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { newWebhookSecret } from '../http/signed'
import { validator, type BodyOf } from '../http/validator'
import { sealColumn } from '../sealing'
import { folderOf } from './checkout'
import { BRANCH, FOLDER } from './forms'
import { readRepository, type ReadReport } from './repository'

const EVERY_MINUTES = { type: 'integer', minimum: 0, maximum: 1440 } as const
/** A path on the server's machine or an address git understands; never an option, never a helper program. */
export const repositoryBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['name', 'location', 'branch'],
  properties: {
    name: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$' },
    location: { type: 'string', maxLength: 500, pattern: '^(/|https?://|ssh://|git@)[^\\s]+$' },
    branch: { type: 'string', maxLength: 100, pattern: BRANCH },
    folder: FOLDER,
    everyMinutes: EVERY_MINUTES,
  },
})
export type RepositoryRequest = BodyOf<typeof repositoryBody>

/** Adds a repository and reads it at once. One that cannot be read is not kept. @throws {Problem} NAME_TAKEN,
 * REPOSITORY_UNREADABLE */
export async function addRepository(
  ctx: Context,
  request: RepositoryRequest,
  who: string,
): Promise<ReadReport> {
  const known = await listRepositories(ctx.db)
  if (known.some(({ name }) => name === request.name))
    throw new Problem('NAME_TAKEN', `There is a repository “${request.name}” already; choose another name.`)
  const id = await ctx.db.transaction(async (tx) => {
    const added = await insert(tx, { ...request, webhookSecret: sealColumn(newWebhookSecret()) })
    await note(tx, who, 'repository.add', String(added), request)
    return added
  })
  try {
    return await readRepository(ctx, id)
  } catch (error) {
    await ctx.db.transaction(async (tx) => {
      await dropRepository(tx, id)
      await note(tx, who, 'repository.remove', request.name, { why: 'it could not be read' })
    })
    throw error
  }
}

export const repositoryChangeBody = validator({
  type: 'object',
  additionalProperties: false,
  minProperties: 1,
  properties: {
    branch: { type: 'string', maxLength: 100, pattern: BRANCH },
    folder: FOLDER,
    everyMinutes: EVERY_MINUTES,
  },
})

/** @throws {Problem} NOT_FOUND */
export async function changeRepository(
  ctx: Context,
  id: number,
  request: BodyOf<typeof repositoryChangeBody>,
  who: string,
): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await change(tx, id, request))) throw new Problem('NOT_FOUND')
    await note(tx, who, 'repository.change', String(id), request)
  })
}

/** Takes a repository away with the definitions that come from it; their versions stay. What is in git is not
 * touched.
 * @throws {Problem} NOT_FOUND, EDITS_WAIT unless `withEdits` */
export async function removeRepository(
  ctx: Context,
  id: number,
  withEdits: boolean,
  who: string,
): Promise<void> {
  const repository = await repositoryById(ctx.db, id)
  if (!repository) throw new Problem('NOT_FOUND')
  const edits = await editedOf(ctx.db, id)
  if (edits.length > 0 && !withEdits)
    throw new Problem(
      'EDITS_WAIT',
      `${edits.length === 1 ? 'A file was' : `${edits.length} files were`} edited here and not committed yet: ${edits.map(({ file }) => file).join(', ')}. Commit first, or remove the repository with the edits.`,
      { edits: edits.length },
    )
  await ctx.db.transaction(async (tx) => {
    await dropRepository(tx, id)
    await note(tx, who, 'repository.remove', repository.name)
  })
  await rm(folderOf(ctx, repository), { recursive: true, force: true })
  await notify(ctx.db, 'definitions')
}
