import { resolve } from 'node:path'

/** Something the person at the keyboard can mend; shown as one line. */
export class CliProblem extends Error {}

export type Options = {
  command: string
  rest: string[]
  port: number
  host: string
  demo: boolean
  dryRun: boolean
  json: boolean
  schema: boolean
  whole: boolean
  /** Of `evidence move`: from the first store, once it is in the second. */ delete: boolean
  each?: string
  build?: string
  set: Record<string, string>
  /** Of `compute difference`: boxes, x,y,w,h each. */ ignore: string[]
  /** Of `compute find`: the score from which a place counts. */ least?: number
  wait: boolean
  junit?: string
  server?: string
  token?: string
  home: string
  databaseUrl?: string
  /** Of `verify`: the hash the chain should end with. */ expect?: string
}

const PORT = 4600
const FLAGS = [
  '--port',
  '--host',
  '--no-demo',
  '--dry-run',
  '--json',
  '--schema',
  '--each',
  '--ignore',
  '--least',
  '--build',
  '--set',
  '--wait',
  '--junit',
  '--expect',
  '--whole',
  '--delete',
]

/** @throws {CliProblem} for a flag that is not known or a port that is none */
export function options(args: string[], env: Record<string, string | undefined> = process.env): Options {
  const rest: string[] = []
  let port = PORT
  let host = '127.0.0.1'
  let demo = true
  let dryRun = false
  let json = false
  let schema = false
  let wait = false
  let whole = false
  let deletes = false
  const set: Record<string, string> = {}
  const ignore: string[] = []
  let least: number | undefined
  const named: { each?: string; build?: string; junit?: string; expect?: string } = {}
  for (let i = 0; i < args.length; i++) {
    const arg = args[i]!
    if (arg === '--port') port = Number(args[++i])
    else if (arg === '--host') host = args[++i] ?? ''
    else if (arg === '--no-demo') demo = false
    else if (arg === '--dry-run') dryRun = true
    else if (arg === '--json') json = true
    else if (arg === '--schema') schema = true
    else if (arg === '--wait') wait = true
    else if (arg === '--whole') whole = true
    else if (arg === '--delete') deletes = true
    else if (arg === '--each' || arg === '--build' || arg === '--junit' || arg === '--expect')
      named[arg.slice(2) as keyof typeof named] = args[++i] ?? ''
    else if (arg === '--least') least = shareOf(args[++i])
    else if (arg === '--ignore') ignore.push(args[++i] ?? '')
    else if (arg === '--set') assign(set, args[++i])
    else if (arg.startsWith('--'))
      throw new CliProblem(`${arg} is not known here; there is: ${FLAGS.join(', ')}`)
    else rest.push(arg)
  }
  if (!Number.isInteger(port) || port < 1 || port > 65_000)
    throw new CliProblem('--port wants a number from 1 to 65000')
  const [command = 'help', ...others] = rest
  return {
    command,
    rest: others,
    port,
    host,
    demo,
    dryRun,
    json,
    schema,
    wait,
    whole,
    delete: deletes,
    set,
    ignore,
    ...(least !== undefined && { least }),
    ...named,
    ...(env.OAK_SERVER && { server: env.OAK_SERVER }),
    ...(env.OAK_TOKEN && { token: env.OAK_TOKEN }),
    home: resolve(env.OAK_HOME ?? '.oak'),
    ...(env.DATABASE_URL && { databaseUrl: env.DATABASE_URL }),
  }
}

/** @throws {CliProblem} for what is no number from 0 to 1 */
function shareOf(text = ''): number {
  const share = Number(text)
  if (text.trim() === '' || !(share >= 0 && share <= 1))
    throw new CliProblem(`--least wants a number from 0 to 1, not “${text}”`)
  return share
}

/** @throws {CliProblem} for what is not NAME=VALUE */
function assign(set: Record<string, string>, text = ''): void {
  const [, name, value] = /^([A-Za-z][A-Za-z0-9_]*)=([\s\S]*)$/.exec(text) ?? []
  if (name === undefined) throw new CliProblem(`--set wants NAME=VALUE, not “${text}”`)
  set[name] = value!
}
