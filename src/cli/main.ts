/** ./oak COMMAND: what each does, and the way to it. */
import { CliProblem, options } from './options'

const HELP = `Oak Rotation

  ./oak start        install what is missing, build, and run everything    [--port N] [--host H] [--no-demo]
  ./oak reset        throw the demo's data away; the next start makes a fresh one
  ./oak test         format, types, lint, boundaries, what is unused, unit tests, journeys
                     [one of them; “changed”: what a change touches; “node”: under newer versions of Node.js]
  ./oak format       writes every file as the formatter does
  ./oak check FILE…  says what is wrong with files, or folders of them; exit 0 nothing, 1 something   [--whole] [--json]
  ./oak import FILE  takes in a result file, JUnit XML or TAP                [--build B] [--dry-run] [--json]
  ./oak run ROTATION starts it on the server; exit 0 passed, 1 failures, 2 could not run
                     [--build B] [--set NAME=VALUE] [--wait] [--junit FILE]
  ./oak compute NAME [FILE]  computes: JSON in, JSON out                    [--schema] [--each FILE]
  ./oak bench [NAME] measures, and prints each figure beside its bound
  ./oak verify FILE   checks an evidence document; exit 0 as it was made, 1 not   [--expect HASH]
  ./oak verify audit  checks the chain of the audit trail; exit 0 sound, 1 not   [--expect HASH]
  ./oak evidence move FROM TO  takes what is kept to another store: files, or s3://bucket/prefix; goes on where it stopped
                     [--delete]
  ./oak sbom         prints what the product is made of: a CycloneDX bill of materials
  ./oak help         this

  OAK_HOME       where data is kept (default .oak)
  DATABASE_URL   a PostgreSQL of yours instead of our own
  OAK_SERVER     where run and import go to (default http://127.0.0.1:4600)
  OAK_TOKEN      a CI token, made in Settings
`

async function main(): Promise<number> {
  const given = options(process.argv.slice(2))
  switch (given.command) {
    case 'start':
      return (await import('./start')).start(given)
    case 'reset':
      return (await import('./reset')).reset(given)
    case 'test':
      return (await import('./check')).test(given)
    case 'format':
      return (await import('./format')).format()
    case 'check':
      return (await import('./check-files')).checkFiles(given)
    case 'import':
      return (await import('./import')).importResults(given)
    case 'run':
      return (await import('./run')).runCommand(given)
    case 'compute':
      return (await import('./compute')).computeCommand(given)
    case 'bench':
      return (await import('./bench')).bench(given)
    case 'verify':
      return (await import('./verify')).verify(given)
    case 'evidence':
      return (await import('./evidence')).evidence(given)
    case 'sbom':
      return (await import('./sbom')).sbom()
    case 'help':
      console.log(HELP)
      return 0
    default:
      throw new CliProblem(`there is no command “${given.command}”; ./oak help lists them`)
  }
}

/** Waits until the output is written: a pipe holds 64 KB, and its reader may be slow. */
const printed = (stream: NodeJS.WriteStream) =>
  new Promise<void>((resolve) => stream.write('', () => resolve()))

async function exit(code: number): Promise<never> {
  await Promise.all([printed(process.stdout), printed(process.stderr)])
  process.exit(code)
}

// The reader closed the pipe, as "head" does: EPIPE is no error. A command that runs until it is stopped goes
// on, as its child processes need it.
for (const stream of [process.stdout, process.stderr]) {
  stream.on('error', (error: NodeJS.ErrnoException) => {
    if (process.argv[2] !== 'start') process.exit(error.code === 'EPIPE' ? 0 : 1)
  })
}

main().then(exit, (error: unknown) => {
  console.error(
    `oak: ${error instanceof CliProblem ? error.message : ((error as Error).stack ?? String(error))}`,
  )
  return exit(1)
})
