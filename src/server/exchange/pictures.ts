/** Pictures that targets are looked for by, as files of a workspace: `pictures/NAME.png`, in base64. */
import type { FileProblem } from '@/core/model'
import { listPictureNames, pictureBytes } from '@/db/pictures'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { setPicture } from '../pictures'
import type { GivenFile } from '../work'

const PLACE = /(?:^|\/)pictures\/([^/]+)\.png$/

export const picturesAsFiles = async (ctx: Pick<Context, 'db'>): Promise<GivenFile[]> =>
  (await pictureBytes(ctx.db, await listPictureNames(ctx.db))).map(({ name, bytes }) => ({
    file: `pictures/${name}.png`,
    source: bytes.toString('base64'),
  }))

type Taken = {
  fresh: string[]
  changed: { key: string; file: string; changes: string[] }[]
  same: number
  problems: FileProblem[]
}

/** Compares pictures among files with those that are kept, and keeps them with `apply`. What is no picture is
 * a problem, and left out. */
export async function takePictures(
  ctx: Context,
  given: readonly GivenFile[],
  apply: boolean,
  who: string,
): Promise<Taken> {
  const files = given.flatMap(({ file, source }) => {
    const name = PLACE.exec(file)?.[1]
    return name === undefined ? [] : [{ file, name, source }]
  })
  const taken: Taken = { fresh: [], changed: [], same: 0, problems: [] }
  const kept = await pictureBytes(
    ctx.db,
    files.map(({ name }) => name),
  )
  const known = new Map(kept.map(({ name, bytes }) => [name, bytes.toString('base64')]))
  for (const { file, name, source } of files) {
    if (known.get(name) === source) {
      taken.same++
      continue
    }
    const problem = apply ? await keep(ctx, name, source, who) : undefined
    if (problem !== undefined)
      taken.problems.push({ file, line: 1, column: 1, field: 'picture', message: problem })
    else if (known.has(name)) taken.changed.push({ key: name, file, changes: ['another picture'] })
    else taken.fresh.push(name)
  }
  return taken
}

/** @returns why it is not kept */
const keep = (ctx: Context, name: string, bytes: string, who: string): Promise<string | undefined> =>
  setPicture(ctx, name, { bytes }, who).then(
    () => undefined,
    (error: unknown) => {
      if (error instanceof Problem) return error.message
      throw error
    },
  )
