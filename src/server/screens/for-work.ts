/** The accepted screens that an attempt compares with. */
import { nearestEnvironment, type AcceptedScreen } from '@/core/execution'
import type { Environment } from '@/core/model'
import { acceptedOfCase } from '@/db/accepted-screens'
import type { Context } from '../context'
import { pieceOf } from '../evidence'

/** For each of the names: of the environment itself, or of the one most like it. A picture that cannot be
 * read now is left out: the check proposes then, and changes nothing. */
export async function acceptedScreens(
  ctx: Pick<Context, 'db' | 'evidence'>,
  caseKey: string,
  environment: Environment,
  names: readonly string[],
): Promise<Record<string, AcceptedScreen>> {
  const rows = await acceptedOfCase(ctx.db, caseKey, names)
  const found = names.flatMap((name) => {
    const named = rows.filter((row) => row.name === name)
    const nearest = nearestEnvironment(
      environment,
      named.map((row) => ({ ...row.facts, row })),
    )
    const own = named.find((row) => row.environment === environment.key)
    return own ?? nearest?.row ?? []
  })
  const screens = await Promise.all(
    found.map(async (row) => {
      const piece = await pieceOf(ctx, row.hash).catch(() => undefined)
      if (!piece) return []
      const screen: AcceptedScreen = {
        hash: row.hash,
        png: piece.bytes.toString('base64'),
        ignore: row.ignore,
        most: row.most,
        ...(row.environment !== environment.key && { from: row.facts.title }),
      }
      return [[row.name, screen] as const]
    }),
  )
  return Object.fromEntries(screens.flat())
}
