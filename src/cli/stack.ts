/** Everything the product is made of, started in order. `./oak start` and the browser journeys use the same. */
import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { buildWeb } from './build'
import { CliProblem, type Options } from './options'
import { answers, requireFree } from './ports'
import { ensureDatabase, startPostgres, type Postgres } from './postgres'
import { Processes } from './processes'

export type StackOptions = Pick<Options, 'home' | 'port' | 'host' | 'demo' | 'databaseUrl'> & { env?: Record<string, string>; quick?: boolean }
export type Stack = { url: string; processes: Processes; databaseUrl: string; people: string; stop(): Promise<void> }

const READY_MS = 60_000
/** How often our own PostgreSQL is looked after. */
const LOOK_MS = 1000
/** What the web process needs of heap at its worst, planning a run of 20,000 case runs, and some more. */
const WEB_HEAP_MB = 400

export async function startStack({ home, port, host, demo, databaseUrl, env = {}, quick = false }: StackOptions, say: (text: string) => void): Promise<Stack> {
  mkdirSync(home, { recursive: true })
  const [ferryPort, trackerPort] = [port + 1, port + 2]
  await requireFree(port, 'web')
  if (demo) await Promise.all([requireFree(ferryPort, 'ferry applications'), requireFree(trackerPort, 'tracker')])
  await buildWeb(say)

  let postgres: Postgres | undefined
  let processes: Processes | undefined
  let watch: NodeJS.Timeout | undefined
  const stop = async () => {
    clearInterval(watch)
    await processes?.stop()
    postgres?.stop()
  }
  try {
    if (!databaseUrl) {
      postgres = await startPostgres(home, { quick })
      if (postgres.note) say(postgres.note)
      ensureDatabase(postgres.url)
      watch = setInterval(() => postgres?.revive() && say('PostgreSQL: ended, started again'), LOOK_MS)
    }
    const url = `http://127.0.0.1:${port}`
    processes = new Processes(join(home, 'logs'), {
      ...process.env, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1', OAK_HOME: home, OAK_URL: url, DATABASE_URL: databaseUrl ?? postgres!.url,
      OAK_SECRET: secret(home, 'cookie-secret'), OAK_AGENT_TOKEN: `oak_agent_${secret(home, 'agent-token')}`,
      FERRY_READER_PASSWORD: secret(home, 'ferry-reader-password'), FERRY_PORT: String(ferryPort), TRACKER_PORT: String(trackerPort), FERRY_URL: `http://127.0.0.1:${ferryPort}`, TRACKER_URL: `http://127.0.0.1:${trackerPort}`,
      OAK_MIGRATIONS: join('src', 'db', 'migrations'), OAK_DEMO_CASES: join('stand-ins', 'repository'), ...env,
    }, say)
    const people = await bringUp(processes, { url, home, host, port, demo, ferryPort }, say)
    return { url, processes, databaseUrl: databaseUrl ?? postgres!.url, people, stop }
  } catch (error) {
    await stop()
    throw error
  }
}

async function bringUp(processes: Processes, at: { url: string; home: string; host: string; port: number; demo: boolean; ferryPort: number }, say: (text: string) => void): Promise<string> {
  const { url, home, host, port, demo, ferryPort } = at
  const ready = async (name: string, address: string) => {
    if (!(await answers(address, READY_MS, () => !processes.isRunning(name)))) throw new CliProblem(`${name} does not answer at ${address}:\n${processes.tail(name)}`)
  }
  if ((await processes.once({ name: 'migrate', args: ['build/prepare.mjs', 'migrate'] })) !== 0) throw new CliProblem('the database could not be brought up to date')
  if (demo) {
    processes.start({ name: 'stand-ins', args: ['build/stand-ins.mjs'] })
    await ready('stand-ins', `http://127.0.0.1:${ferryPort}/health`)
  }
  const lines: string[] = []
  const show = (line: string) => {
    lines.push(line)
    say(line)
  }
  rmSync(join(home, 'agent-fleet.json'), { force: true })
  if ((await processes.once({ name: 'prepare', args: ['build/prepare.mjs', demo ? 'demo' : 'basics'] }, show)) !== 0) throw new CliProblem('the first data could not be made')
  processes.start({ name: 'web', args: [`--max-old-space-size=${WEB_HEAP_MB}`, 'build/web.mjs', '--port', String(port), '--host', host] })
  processes.start({ name: 'worker', args: ['build/worker.mjs'] })
  await ready('web', `${url}/api/health`)
  for (const file of readdirSync(home).filter((name) => /^agent-.*\.json$/.test(name)).sort()) {
    processes.start({ name: file.replace('.json', ''), args: ['build/agent.mjs', '--config', join(home, file)] })
  }
  return lines.findLast((line) => line.startsWith('people:') || line.startsWith('sign in')) ?? ''
}

/** Made once and kept: a restart signs nobody out. */
function secret(home: string, name: string): string {
  const file = join(home, name)
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 })
  return readFileSync(file, 'utf8')
}

