/** ./oak compute NAME [FILE]: JSON in, JSON out; no server. */
import { readFileSync } from 'node:fs'
import { BadInput, compute, COMPUTATION_NAMES, schemaOf, type Ports } from '@/core/compute'
import { CliProblem, type Options } from './options'

const BAD_INPUT = 2
/** Those that are given pictures; what decodes them is loaded for them alone. */
const PICTURE_COMPUTATIONS = ['difference', 'find', 'read']
const isOfPictures = (name: string | undefined) => PICTURE_COMPUTATIONS.some((one) => one === name)

/** @returns 0, or 2 for bad input: then nothing is printed on standard output, and one line a fault on
 * standard error */
export async function computeCommand(options: Options): Promise<number> {
  const {
    rest: [name, file],
    schema,
    each,
  } = options
  if (isOfPictures(name) && !schema) return (await import('./pictures')).pictureCommand(options)
  if (name === undefined || !schemaOf(name))
    throw new CliProblem(
      `${name === undefined ? 'compute wants a name' : `there is no computation “${name}”`}; there is: ` +
        `${[...COMPUTATION_NAMES, ...PICTURE_COMPUTATIONS].join(', ')}`,
    )
  if (schema) return say(schemaOf(name))
  try {
    const input = parse(readInput(each ?? file))
    if (each === undefined) return say(compute(name, input, PORTS))
    if (!Array.isArray(input))
      throw new BadInput([{ path: '', message: 'with --each it is a list of inputs' }])
    return say(input.map((one, i) => computeEach(name, one, i)))
  } catch (error) {
    if (!(error instanceof BadInput)) throw error
    for (const { path, message } of error.faults) console.error(`error: ${path || 'input'}: ${message}`)
    return BAD_INPUT
  }
}

const PORTS: Ports = { clock: () => performance.now() }

function computeEach(name: string, input: unknown, i: number): unknown {
  try {
    return compute(name, input, PORTS)
  } catch (error) {
    if (error instanceof BadInput)
      throw new BadInput(
        error.faults.map(({ path, message }) => ({
          path: [i, path].filter((part) => part !== '').join('/'),
          message,
        })),
      )
    throw error
  }
}

function say(answer: unknown): number {
  process.stdout.write(`${JSON.stringify(answer)}\n`)
  return 0
}

function readInput(file: string | undefined): string {
  try {
    return readFileSync(file ?? 0, 'utf8')
  } catch (error) {
    throw new CliProblem(`${file ?? 'standard input'} cannot be read: ${(error as Error).message}`)
  }
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch (error) {
    throw new BadInput([{ path: '', message: `it is not JSON: ${(error as Error).message}` }])
  }
}
