/** ./oak compute difference | find | read: pictures in, JSON out. */
import { readFile } from 'node:fs/promises'
import { difference, find, type Box, type Pixels } from '@/core/vision'
import { decodePicture, PictureRefused } from '@/node/decode'
import { NotRead, readWords } from '@/node/read-words'
import { CliProblem, type Options } from './options'

const BAD_INPUT = 2

/** What is said of pictures: how many, as words, and by what. */
const COMPUTATIONS: Record<
  string,
  { files: string[]; wants: string; answer: (pictures: Pixels[], options: Options) => unknown }
> = {
  difference: {
    files: ['A.png', 'B.png'],
    wants: 'two pictures',
    answer: ([a, b], { ignore }) => difference(a!, b!, { ignore: ignore.map(boxOf) }),
  },
  find: {
    files: ['SCREEN.png', 'PATCH.png'],
    wants: 'two pictures',
    answer: ([screen, patch], { least }) => find(screen!, patch!, least === undefined ? {} : { least }),
  },
  read: { files: ['SCREEN.png'], wants: 'one picture', answer: ([screen]) => readWords(screen!) },
}

/** @returns 0, or 2 for a picture that is none: then nothing is printed on standard output */
export async function pictureCommand(options: Options): Promise<number> {
  const [name = '', ...files] = options.rest
  const { files: wanted, wants, answer } = COMPUTATIONS[name]!
  if (files.length !== wanted.length)
    throw new CliProblem(`compute ${name} wants ${wants}: ./oak compute ${name} ${wanted.join(' ')}`)
  options.ignore.forEach(boxOf)
  try {
    const pictures = []
    for (const file of files) pictures.push(await read(file))
    process.stdout.write(`${JSON.stringify(await answer(pictures, options))}\n`)
    return 0
  } catch (error) {
    if (!(error instanceof PictureRefused || error instanceof NotRead)) throw error
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
