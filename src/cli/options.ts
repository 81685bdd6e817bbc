import { resolve } from 'node:path'

/** Something the person at the keyboard can mend; shown as one line. */
export class CliProblem extends Error {}

export type Options = { command: string; rest: string[]; port: number; host: string; demo: boolean; dryRun: boolean; json: boolean; schema: boolean; each?: string; server?: string; token?: string; home: string; databaseUrl?: string }

const PORT = 4600
const FLAGS = ['--port', '--host', '--no-demo', '--dry-run', '--json', '--schema', '--each']

/** @throws {CliProblem} for a flag that is not known or a port that is none */
export function options(args: string[], env: Record<string, string | undefined> = process.env): Options {
  const rest: string[] = []
  let port = PORT
  let host = '127.0.0.1'
  let demo = true
  let dryRun = false
  let json = false
  let schema = false
  let each: string | undefined
  for (let i = 0; i < args.length; i++) {
    const arg = args[i]!
    if (arg === '--port') port = Number(args[++i])
    else if (arg === '--host') host = args[++i] ?? ''
    else if (arg === '--no-demo') demo = false
    else if (arg === '--dry-run') dryRun = true
    else if (arg === '--json') json = true
    else if (arg === '--schema') schema = true
    else if (arg === '--each') each = args[++i] ?? ''
    else if (arg.startsWith('--')) throw new CliProblem(`${arg} is not known here; there is: ${FLAGS.join(', ')}`)
    else rest.push(arg)
  }
  if (!Number.isInteger(port) || port < 1 || port > 65_000) throw new CliProblem('--port wants a number from 1 to 65000')
  const [command = 'help', ...others] = rest
  return { command, rest: others, port, host, demo, dryRun, json, schema, ...(each !== undefined && { each }), ...(env.OAK_SERVER && { server: env.OAK_SERVER }), ...(env.OAK_TOKEN && { token: env.OAK_TOKEN }), home: resolve(env.OAK_HOME ?? '.oak'), ...(env.DATABASE_URL && { databaseUrl: env.DATABASE_URL }) }
}
