/** ./oak evidence move FROM TO: from one store to another. */
import { runOnDatabase } from './on-database'
import { CliProblem, type Options } from './options'

/** @returns 0 when all that is kept is in the other store, 1 when not */
export function evidence(options: Options): Promise<number> {
  const [what, from, to, ...more] = options.rest
  if (what !== 'move' || !from || !to || more.length > 0)
    throw new CliProblem(
      'evidence wants to know from where to where: ./oak evidence move files s3://bucket/prefix [--delete]',
    )
  if (from === to) throw new CliProblem('both are the same store')
  return runOnDatabase(options, 'move-evidence', [from, to, ...(options.delete ? ['delete'] : [])])
}
