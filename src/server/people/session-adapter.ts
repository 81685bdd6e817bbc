/** Sessions as the sign-in library keeps them, but for their tokens: the database holds only a hash, so who
 * reads it can be nobody. */
import { createHash } from 'node:crypto'
import type { drizzleAdapter } from 'better-auth/adapters/drizzle'

type MakeAdapter = ReturnType<typeof drizzleAdapter>
type Adapter = ReturnType<MakeAdapter>
type Where = { field: string; value: unknown }
type Row = Record<string, unknown>

export const hashOfSession = (token: string) => createHash('sha256').update(`session ${token}`).digest('hex')

/** The same adapter, with tokens of sessions hashed on the way in, and in every condition. */
export function withHashedSessions(make: MakeAdapter): MakeAdapter {
  return (options) => {
    const inner = make(options)
    const conditions = (model: string, where: Where[] | undefined) =>
      model === 'session'
        ? where?.map((one) => (one.field === 'token' ? { ...one, value: hashed(one.value) } : one))
        : where
    const data = (model: string, row: Row): Row =>
      model === 'session' && typeof row.token === 'string' ? { ...row, token: hashOfSession(row.token) } : row
    /** Who asks by a token gets it back as they know it. */
    const known = <T>(model: string, where: Where[] | undefined, row: T): T => {
      const token = model === 'session' ? where?.find(({ field }) => field === 'token')?.value : undefined
      return row && typeof token === 'string' ? { ...row, token } : row
    }
    const wrapped = {
      ...inner,
      create: async (given: { model: string; data: Row }) => {
        const made = await inner.create({ ...given, data: data(given.model, given.data) } as never)
        return given.model === 'session' ? { ...(made as Row), token: given.data.token } : made
      },
      findOne: async (given: { model: string; where: Where[] }) =>
        known(
          given.model,
          given.where,
          await inner.findOne({ ...given, where: conditions(given.model, given.where) } as never),
        ),
      findMany: (given: { model: string; where?: Where[] }) =>
        inner.findMany({ ...given, where: conditions(given.model, given.where) } as never),
      count: (given: { model: string; where?: Where[] }) =>
        inner.count({ ...given, where: conditions(given.model, given.where) } as never),
      update: async (given: { model: string; where: Where[]; update: Row }) =>
        known(
          given.model,
          given.where,
          await inner.update({
            ...given,
            where: conditions(given.model, given.where),
            update: data(given.model, given.update),
          } as never),
        ),
      updateMany: (given: { model: string; where: Where[]; update: Row }) =>
        inner.updateMany({
          ...given,
          where: conditions(given.model, given.where),
          update: data(given.model, given.update),
        } as never),
      delete: (given: { model: string; where: Where[] }) =>
        inner.delete({ ...given, where: conditions(given.model, given.where) } as never),
      deleteMany: (given: { model: string; where: Where[] }) =>
        inner.deleteMany({ ...given, where: conditions(given.model, given.where) } as never),
    }
    return wrapped as unknown as Adapter
  }
}

function hashed(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(hashed)
  return typeof value === 'string' ? hashOfSession(value) : value
}
