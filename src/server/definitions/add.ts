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
import { CREDENTIALS, sealedCredentials } from './credentials'
import { BRANCH, FOLDER, LOCATION } from './forms'
import { removeWorkingCopy } from './git'
import { readRepository, type ReadReport, type Whereabouts } from './repository'

const EVERY_MINUTES = { type: 'integer', minimum: 0, maximum: 1440 } as const
export const repositoryBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['name', 'location', 'branch'],
  properties: {
    name: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$' },
    location: LOCATION,
    branch: { type: 'string', maxLength: 100, pattern: BRANCH },
    folder: FOLDER,
    everyMinutes: EVERY_MINUTES,
    credentials: CREDENTIALS,
  },
})
export type RepositoryRequest = BodyOf<typeof repositoryBody>

/** Adds a repository and reads it at once. One that cannot be read is not kept. @throws {Problem} NAME_TAKEN,
 * REPOSITORY_UNREADABLE; BODY_INVALID for credentials that do not fit */
export async function addRepository(
  ctx: Context,
  { credentials = { kind: 'none' }, ...request }: RepositoryRequest,
  who: string,
): Promise<ReadReport> {
  const sealed = sealedCredentials(credentials, request.location)
  const known = await listRepositories(ctx.db)
  if (known.some(({ name }) => name === request.name))
    throw new Problem('NAME_TAKEN', `There is a repository “${request.name}” already; choose another name.`)
  const id = await ctx.db.transaction(async (tx) => {
    const added = await insert(tx, {
      ...request,
      credentials: sealed,
      webhookSecret: sealColumn(newWebhookSecret()),
    })
    await note(tx, who, 'repository.add', String(added), { ...request, credentials: credentials.kind })
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
    location: LOCATION,
    branch: { type: 'string', maxLength: 100, pattern: BRANCH },
    folder: FOLDER,
    everyMinutes: EVERY_MINUTES,
    credentials: CREDENTIALS,
  },
})

/** When it is read from elsewhere than before (address, branch, folder, credentials), it is read at once, and
 * nothing changes if it cannot be.
 * @returns what the reading found, if there was one
 * @throws {Problem} NOT_FOUND, REPOSITORY_UNREADABLE, BODY_INVALID; EDITS_WAIT: what was edited here belongs
 * to where it was read */
export async function changeRepository(
  ctx: Context,
  id: number,
  { credentials, everyMinutes, ...where }: BodyOf<typeof repositoryChangeBody>,
  who: string,
): Promise<ReadReport | undefined> {
  const repository = await repositoryById(ctx.db, id)
  if (!repository) throw new Problem('NOT_FOUND')
  const location = where.location ?? repository.location
  if (location !== repository.location && repository.credentials !== null && !credentials)
    throw new Problem('BODY_INVALID', 'The address is another: say the credentials for it again, or none.')
  const isElsewhere = PLACE.some((part) => (where[part] ?? repository[part]) !== repository[part])
  if (isElsewhere) requireNoEdits(await editedOf(ctx.db, id), 'Commit first.')
  const next: Whereabouts = {
    ...where,
    ...(credentials && { credentials: sealedCredentials(credentials, location) }),
  }
  const read = isElsewhere || credentials ? await readRepository(ctx, id, next) : undefined
  await ctx.db.transaction(async (tx) => {
    if (everyMinutes !== undefined) await change(tx, id, { everyMinutes })
    await note(tx, who, 'repository.change', String(id), {
      ...where,
      ...(everyMinutes !== undefined && { everyMinutes }),
      ...(credentials && { credentials: credentials.kind }),
    })
  })
  return read
}

const PLACE = ['location', 'branch', 'folder'] as const

function requireNoEdits(edits: readonly { file: string }[], remedy: string): void {
  if (edits.length === 0) return
  const many = edits.length === 1 ? 'A file was' : `${edits.length} files were`
  const names = edits.map(({ file }) => file).join(', ')
  throw new Problem('EDITS_WAIT', `${many} edited here and not committed yet: ${names}. ${remedy}`, {
    edits: edits.length,
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
  if (!withEdits) requireNoEdits(edits, 'Commit first, or remove the repository with the edits.')
  await ctx.db.transaction(async (tx) => {
    await dropRepository(tx, id)
    await note(tx, who, 'repository.remove', repository.name)
  })
  await removeWorkingCopy(folderOf(ctx, repository))
  await notify(ctx.db, 'definitions')
}
