/** ./oak compute difference A.png B.png: pictures in, JSON out. */
import { readFile } from 'node:fs/promises'
import { difference, type Box, type Pixels } from '@/core/vision'
import { decodePicture, PictureRefused } from '@/node/decode'
import { CliProblem, type Options } from './options'

const BAD_INPUT = 2

/** @returns 0, or 2 for a picture that is none: then nothing is printed on standard output */
export async function pictureCommand({ rest: [name, ...files], ignore }: Options): Promise<number> {
  const [first, second, ...more] = files
  if (first === undefined || second === undefined || more.length > 0)
    throw new CliProblem(`compute ${name} wants two pictures: ./oak compute ${name} A.png B.png`)
  const boxes = ignore.map(boxOf)
  try {
    const [a, b] = [await read(first), await read(second)]
    process.stdout.write(`${JSON.stringify(difference(a, b, { ignore: boxes }))}\n`)
    return 0
  } catch (error) {
    if (!(error instanceof PictureRefused)) throw error
    console.error(`error: ${error.message}`)
    return BAD_INPUT
  }
}

async function read(file: string): Promise<Pixels> {
  const bytes = await readFile(file).catch((error: unknown) => {
    throw new CliProblem(`${file} cannot be read: ${(error as Error).message}`)
  })
  return decodePicture(bytes).catch((error: unknown) => {
    throw error instanceof PictureRefused ? new PictureRefused(`${file}: ${error.message}`) : error
  })
}

/** @throws {CliProblem} */
function boxOf(text: string): Box {
  const [x, y, w, h, ...more] = text.split(',').map(Number)
  if (more.length > 0 || ![x, y, w, h].every((value) => Number.isInteger(value)) || w! < 1 || h! < 1)
    throw new CliProblem(`--ignore wants x,y,w,h in pixels, and not “${text}”`)
  return { x: x!, y: y!, w: w!, h: h! }
}
