/** Everything the product is made of, started in order. `./oak start` and the browser journeys use the
 * same. */
import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { buildWeb } from './build'
import { CliProblem, type Options } from './options'
import { answers, requireFree } from './ports'
import { ensureDatabase, startPostgres, type Postgres } from './postgres'
import { childEnv } from '@/node/child-env'
import { placeOf } from '@/node/outgoing'
import { Processes, type Environments } from './processes'

export type StackOptions = Pick<Options, 'home' | 'port' | 'host' | 'demo' | 'databaseUrl'> & {
  env?: Record<string, string>
  quick?: boolean
}
export type Stack = {
  url: string
  processes: Processes
  databaseUrl: string
  people: string
  stop(): Promise<void>
}

const READY_MS = 60_000
/** How often our own PostgreSQL is looked after. */
const LOOK_MS = 1000
/** What the web process needs of heap at its worst, planning a run of 20,000 case runs, and some more. */
const WEB_HEAP_MB = 400

export async function startStack(
  { home, port, host, demo, databaseUrl, env = {}, quick = false }: StackOptions,
  say: (text: string) => void,
): Promise<Stack> {
  mkdirSync(home, { recursive: true })
  const [ferryPort, trackerPort, mailPort] = [port + 1, port + 2, port + 3]
  await requireFree(port, 'web')
  if (demo)
    await Promise.all([
      requireFree(ferryPort, 'ferry applications'),
      requireFree(trackerPort, 'tracker'),
      requireFree(mailPort, 'mail'),
    ])
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
    const ownUrl = databaseUrl ?? postgres!.url
    const own = environmentOf({ home, url, databaseUrl: ownUrl, ferryPort, trackerPort, mailPort, env })
    processes = new Processes(join(home, 'logs'), own, say)
    const people = await bringUp(processes, { url, home, host, port, demo, ferryPort }, say)
    return { url, processes, databaseUrl: ownUrl, people, stop }
  } catch (error) {
    await stop()
    throw error
  }
}

type Given = {
  home: string
  url: string
  databaseUrl: string
  ferryPort: number
  trackerPort: number
  mailPort: number
  env: Record<string, string>
}

/** What each kind of process is given. Only the product's own may open its database and what is sealed. */
function environmentOf({
  home,
  url,
  databaseUrl,
  ferryPort,
  trackerPort,
  mailPort,
  env,
}: Given): Environments {
  const shared = {
    NODE_ENV: 'production' as const,
    NEXT_TELEMETRY_DISABLED: '1',
    OAK_HOME: home,
    OAK_ROOT: process.env.OAK_ROOT ?? process.cwd(),
    ...env,
  }
  const standIns = standInsUrl(databaseUrl, 'oak_stand_ins', secret(home, 'stand-ins-password'))
  return {
    own: {
      ...process.env,
      ...shared,
      OAK_URL: url,
      DATABASE_URL: databaseUrl,
      OAK_SECRET: secret(home, 'cookie-secret'),
      OAK_AGENT_TOKEN: `oak_agent_${secret(home, 'agent-token')}`,
      STAND_INS_DATABASE_URL: standIns,
      FERRY_RECORDS_URL: standInsUrl(databaseUrl, 'ferry_reader', secret(home, 'ferry-reader-password')),
      FERRY_URL: `http://127.0.0.1:${ferryPort}`,
      TRACKER_URL: `http://127.0.0.1:${trackerPort}`,
      MAIL_PORT: String(mailPort),
      OAK_MIGRATIONS: join('src', 'db', 'migrations'),
      OAK_DEMO_CASES: join('stand-ins', 'repository'),
      OAK_REPOSITORY_ROOTS: [process.env.OAK_REPOSITORY_ROOTS, join(home, 'demo')].filter(Boolean).join(':'),
    },
    outside: {
      ...childEnv(shared),
      ...chosen(/^(OAK_CHROMIUM|OAK_FIREFOX|OAK_OUTGOING_ALLOW|FERRY_SURPRISES|FERRY_SEED)$/),
      OAK_PRODUCT_DATABASE: `postgres://${placeOf(databaseUrl)}`,
    }, // where it is, not how to get in
    standIns: {
      FERRY_PORT: String(ferryPort),
      TRACKER_PORT: String(trackerPort),
      MAIL_PORT: String(mailPort),
      STAND_INS_DATABASE_URL: standIns,
    },
  }
}

const chosen = (names: RegExp): Record<string, string> =>
  Object.fromEntries(
    Object.entries(process.env).filter(
      (entry): entry is [string, string] => names.test(entry[0]) && entry[1] !== undefined,
    ),
  )

/** The stand-ins' database, beside the product's own, for one of its two roles
 * (src/demo/stand-ins-database.ts makes it). */
function standInsUrl(url: string, role: string, password: string): string {
  const address = new URL(url)
  address.pathname = `${address.pathname}_stand_ins`
  address.username = role
  address.password = password
  return address.href
}

async function bringUp(
  processes: Processes,
  at: { url: string; home: string; host: string; port: number; demo: boolean; ferryPort: number },
  say: (text: string) => void,
): Promise<string> {
  const { url, home, host, port, demo, ferryPort } = at
  const ready = async (name: string, address: string) => {
    if (!(await answers(address, READY_MS, () => !processes.isRunning(name))))
      throw new CliProblem(`${name} does not answer at ${address}:\n${processes.tail(name)}`)
  }
  if ((await processes.once({ name: 'migrate', args: ['build/prepare.mjs', 'migrate'] })) !== 0)
    throw new CliProblem('the database could not be brought up to date')
  if (demo) {
    if ((await processes.once({ name: 'stand-ins', args: ['build/prepare.mjs', 'stand-ins'] })) !== 0)
      throw new CliProblem(
        'the stand-ins need a database of their own on the same server, and the role of DATABASE_URL ' +
          'may not make it. Let it create databases and roles, or start with --no-demo',
      )
    processes.start({ name: 'stand-ins', args: ['build/stand-ins.mjs'], kind: 'stand-ins' })
    await ready('stand-ins', `http://127.0.0.1:${ferryPort}/health`)
  }
  const lines: string[] = []
  const show = (line: string) => {
    lines.push(line)
    say(line)
  }
  rmSync(join(home, 'agent-fleet.json'), { force: true })
  if (
    (await processes.once(
      { name: 'prepare', args: ['build/prepare.mjs', demo ? 'demo' : 'basics'] },
      show,
    )) !== 0
  )
    throw new CliProblem('the first data could not be made')
  processes.start({
    name: 'web',
    args: [`--max-old-space-size=${WEB_HEAP_MB}`, 'build/web.mjs', '--port', String(port), '--host', host],
  })
  processes.start({ name: 'worker', args: ['build/worker.mjs'] })
  await ready('web', `${url}/api/health`)
  for (const file of readdirSync(home)
    .filter((name) => /^agent-.*\.json$/.test(name))
    .sort()) {
    processes.start({
      name: file.replace('.json', ''),
      args: ['build/agent.mjs', '--config', join(home, file)],
      kind: 'agent',
    })
  }
  return lines.findLast((line) => line.startsWith('people:') || line.startsWith('sign in')) ?? ''
}

/** Made once and kept: a restart signs nobody out. */
function secret(home: string, name: string): string {
  const file = join(home, name)
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 })
  return readFileSync(file, 'utf8')
}
