/** ./oak check FILE…: what is wrong with files of cases, suites and the like; no server. */
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { basename, join } from 'node:path'
import { brokenReferences, libraryOf, type Definition, type FileProblem } from '@/core/model'
import { kindOfFile, parseDefinition, tablesNamedIn } from '@/core/model/files'
import { CliProblem, type Options } from './options'

const PROBLEMS = 1

/** Problems of each file, with their places. With `--whole` the files are everything there is: what they
 * refer to has to be among them, or it is a problem too.
 * @returns 0: nothing is wrong; 1: something is
 * @throws {CliProblem} for a file that cannot be read, or is none of ours */
export async function checkFiles({ rest, json, whole }: Options): Promise<number> {
  if (rest.length === 0)
    throw new CliProblem('check wants files or folders: ./oak check FILE… [--whole] [--json]')
  const read = filesOf(rest).map(({ file, text }) => ({ file, ...parseDefinition(file, text) }))
  const problems = read.flatMap((one) => one.problems)
  if (whole) {
    const sound = read.flatMap(({ file, definition }) => (definition ? [{ file, document: definition }] : []))
    problems.push(...keysGivenTwice(sound), ...brokenReferences(sound, libraryOf(sound.map(documentOf))))
  }
  if (json) process.stdout.write(`${JSON.stringify({ files: read.length, problems })}\n`)
  else say(read.length, problems)
  return problems.length > 0 ? PROBLEMS : 0
}

type Placed = { file: string; document: Definition }
const documentOf = ({ document }: Placed): Definition => document

function say(files: number, problems: readonly FileProblem[]): void {
  for (const { file, line, column, field, message } of problems)
    console.log(`${file}:${line}:${column}: ${field ? `${field}: ` : ''}${message}`)
  const what = files === 1 ? '1 file' : `${files} files`
  const found = problems.length === 1 ? '1 problem' : `${problems.length || 'no'} problems`
  console.error(`${what}, ${found}`)
}

/** The files with their texts. Any JSON file may be a table: in a folder it is one when another file names
 * it. */
function filesOf(paths: readonly string[]): { file: string; text: string }[] {
  const files = [...new Set(paths.flatMap(filesAt))].map((file) => ({ file, text: textOf(file) }))
  const named = new Set(files.flatMap(({ file, text }) => (/ya?ml$/.test(file) ? tablesNamedIn(text) : [])))
  return files.filter(
    ({ file }) => !file.endsWith('.json') || paths.includes(file) || named.has(basename(file)),
  )
}

/** A file itself; of a folder all that are ours by their names, those of inner folders too. */
function filesAt(path: string): string[] {
  const found = statSync(path, { throwIfNoEntry: false })
  if (!found) throw new CliProblem(`there is no file or folder ${path}`)
  if (!found.isDirectory()) {
    if (!kindOfFile(path))
      throw new CliProblem(
        `${path} is none of our files: they end in .case.yaml, .routine.yaml, .suite.yaml, ` +
          '.rotation.yaml, .policy.yaml, .csv or .json',
      )
    return [path]
  }
  return readdirSync(path, { withFileTypes: true })
    .filter(({ name }) => !name.startsWith('.') && name !== 'node_modules')
    .toSorted((a, b) => (a.name < b.name ? -1 : 1))
    .flatMap((entry) => {
      const inner = join(path, entry.name)
      if (entry.isDirectory()) return filesAt(inner)
      return entry.isFile() && kindOfFile(entry.name) ? [inner] : []
    })
}

function textOf(file: string): string {
  try {
    return readFileSync(file, 'utf8')
  } catch (error) {
    throw new CliProblem(`${file} cannot be read: ${(error as Error).message}`)
  }
}

/** A key belongs to one file. */
function keysGivenTwice(placed: readonly Placed[]): FileProblem[] {
  const first = new Map<string, string>()
  return placed.flatMap(({ file, document: { kind, key } }) => {
    const id = `${kind} ${key}`
    const other = first.get(id)
    if (other === undefined) {
      first.set(id, file)
      return []
    }
    return [{ file, line: 1, column: 1, field: kind, message: `“${key}” is in ${other} already` }]
  })
}
