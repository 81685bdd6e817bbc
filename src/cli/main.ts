/** ./oak COMMAND: what each does, and the way to it. */
import { CliProblem, options } from './options'

const HELP = `Oak Rotation

  ./oak start        install what is missing, build, and run everything    [--port N] [--host H] [--no-demo]
  ./oak reset        throw the demo's data away; the next start makes a fresh one
  ./oak test         types, lint, boundaries, unit tests, browser journeys  [types|lint|boundaries|unit|journeys]
  ./oak import FILE  takes in a result file, JUnit XML or TAP                [--dry-run] [--json]
  ./oak run ROTATION starts it on the server; exit 0 passed, 1 failures, 2 could not run   [--build B] [--set NAME=VALUE] [--wait] [--junit FILE]
  ./oak compute NAME [FILE]  computes: JSON in, JSON out                    [--schema] [--each FILE]
  ./oak bench [NAME] measures, and prints each figure beside its bound
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
    case 'import':
      return (await import('./import')).importResults(given)
    case 'run':
      return (await import('./run')).runCommand(given)
    case 'compute':
      return (await import('./compute')).computeCommand(given)
    case 'bench':
      return (await import('./bench')).bench(given)
    case 'help':
      console.log(HELP)
      return 0
    default:
      throw new CliProblem(`there is no command “${given.command}”; ./oak help lists them`)
  }
}

main().then(
  (code) => process.exit(code),
  (error: unknown) => {
    console.error(`oak: ${error instanceof CliProblem ? error.message : ((error as Error).stack ?? String(error))}`)
    process.exit(1)
  },
)
