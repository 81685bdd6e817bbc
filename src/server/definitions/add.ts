import { addRepository as insert, dropRepository, listRepositories } from '@/db/definitions'
import { note } from '@/db/defects'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator } from '../http/route'
import { readRepository, type ReadReport } from './repository'

export type RepositoryRequest = { name: string; location: string; branch: string }
/** A path on the server's machine or an address git understands; never an option, never a helper program. */
export const repositoryBody = validator<RepositoryRequest>({
  type: 'object', additionalProperties: false, required: ['name', 'location', 'branch'],
  properties: {
    name: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$' },
    location: { type: 'string', maxLength: 500, pattern: '^(/|https?://|ssh://|git@)[^\\s]+$' },
    branch: { type: 'string', maxLength: 100, pattern: '^[A-Za-z0-9][A-Za-z0-9._/-]*$' },
  },
})

/** Adds a repository and reads it at once. One that cannot be read is not kept. @throws {Problem} NAME_TAKEN, REPOSITORY_UNREADABLE */
export async function addRepository(ctx: Context, request: RepositoryRequest, who: string): Promise<ReadReport> {
  const known = await listRepositories(ctx.db)
  if (known.some(({ name }) => name === request.name)) throw new Problem('NAME_TAKEN', `There is a repository “${request.name}” already; choose another name.`)
  const id = await insert(ctx.db, request)
  try {
    const report = await readRepository(ctx, id)
    await note(ctx.db, who, 'repository.add', String(id), request)
    return report
  } catch (error) {
    await dropRepository(ctx.db, id)
    throw error
  }
}
