/** The agent process. One process may serve several agents: a real one, or a fleet of simulated ones. */
import { setMaxListeners } from 'node:events'
import { readFileSync } from 'node:fs'
import { homedir } from 'node:os'
import { join } from 'node:path'
import { OWN_VERSION, type Work } from '@/core/execution'
import { outgoingPolicyOf } from '@/node/outgoing'
import { runAgent, type AgentOptions } from './agent'
import type { Pace } from './driver/port'
import { Engines, servable, type Opened } from './engines'
import type { FaultInjection } from './fault-injection'
import { ProtocolClient } from './protocol/client'
import { endOrphans, ownWhatIsStarted } from './orphans'
import { SentHashes } from './protocol/reporter'
import { Spool } from './protocol/spool'
import { requireNone } from './driver/conditions'
import { bounded } from './driver/bounded'
import { seeing } from './driver/seeing'
import { threadedEyes } from './eyes/port'
import { BrowserHolder, findChromium } from './chromium/browser'
import { threadedPulse } from './pulse/port'
import { SimulatedDriver } from './simulated/driver'
import { openBridge, type Bridge } from './webdriver/bridge'
import { PictureMaker } from './simulated/pictures'

/** `bridge`: its browsers run elsewhere, behind a WebDriver endpoint. */
type Configured = Omit<AgentOptions, 'version'> & { bridge?: Bridge }
type Configuration = { server: string; token: string; agents: Configured[] }

/** From --config FILE, or from OAK_SERVER, OAK_TOKEN, OAK_AGENT_NAME, OAK_AGENT_POOL, OAK_AGENT_SEATS,
 * OAK_AGENT_ENVIRONMENTS, OAK_AGENT_BRIDGE (address of a WebDriver endpoint). */
function configuration(): Configuration {
  const flag = process.argv.indexOf('--config')
  if (flag > 0) return JSON.parse(readFileSync(process.argv[flag + 1]!, 'utf8')) as Configuration
  const {
    OAK_SERVER: server,
    OAK_TOKEN: token,
    OAK_AGENT_NAME: name,
    OAK_AGENT_POOL: pool = 'default',
    OAK_AGENT_SEATS: seats = '2',
    OAK_AGENT_ENVIRONMENTS: environments = 'chromium-debian,chromium-narrow',
    OAK_AGENT_BRIDGE: endpoint,
  } = process.env
  if (!server || !token || !name)
    throw new Error('Set OAK_SERVER, OAK_TOKEN and OAK_AGENT_NAME, or give --config FILE')
  return {
    server,
    token,
    agents: [
      {
        name,
        pool,
        seats: Number(seats),
        environments: environments.split(','),
        simulated: false,
        ...(endpoint && { bridge: { endpoint } }),
      },
    ],
  }
}

const say = (text: string) => console.log(new Date().toISOString().slice(11, 19), text)
const { server, token, agents } = configuration()

const ending = new AbortController()
setMaxListeners(0, ending.signal) // every seat of every agent listens to it
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, () => ending.abort())

const orphans = endOrphans()
if (orphans > 0) say(`${orphans} processes that an earlier agent left behind are ended`)
ownWhatIsStarted()
const spool = new Spool(join(process.env.OAK_HOME ?? join(homedir(), '.oak-agent'), 'unsent'), say)

const eyes = threadedEyes(join(import.meta.dirname, 'eyes.mjs'))
const engines = new Engines(eyes)
if (!findChromium() && agents.some(({ simulated }) => simulated))
  say('Chromium is not installed: simulated screens stay empty (apt-get install chromium-headless-shell)')
const painter = new BrowserHolder()
const pictures = findChromium() ? new PictureMaker(painter) : undefined
const pulse = threadedPulse(join(import.meta.dirname, 'pulse.mjs'), server, token)
const client = new ProtocolClient(server, token, say)
const sent = new SentHashes()
const { OAK_OUTGOING_ALLOW: allow, OAK_PRODUCT_DATABASE: database } = process.env
const outgoing = outgoingPolicyOf(allow, [server, database])

/** A real agent serves what is installed here, and tells what is not. */
function registrationOf({ bridge, ...options }: Configured): AgentOptions | undefined {
  if (bridge) return { ...options, version: OWN_VERSION, through: new URL(bridge.endpoint).host }
  if (options.simulated) return { ...options, version: OWN_VERSION }
  const { environments, missing } = servable(options.environments)
  for (const { what, get } of missing) say(`${options.name}: ${what} is not installed: ${get}`)
  return environments.length > 0 ? { ...options, version: OWN_VERSION, environments, missing } : undefined
}

async function openDriver(
  { simulated, bridge }: Pick<Configured, 'simulated' | 'bridge'>,
  work: Work,
  pace: Pace,
  faults: FaultInjection,
  seat: string,
): Promise<Opened> {
  if (simulated) {
    requireNone('A simulated browser', work.environment, ['timeZone', 'colours', 'location', 'camera'])
    return {
      driver: new SimulatedDriver({
        calm: process.env.FERRY_SURPRISES === 'none',
        environment: work.environment,
        pace,
        seed: work.seed,
        faults,
        ...(pictures && { pictures }),
      }),
    }
  }
  if (bridge)
    return {
      driver: seeing(
        bounded(
          await openBridge(bridge, work.environment, pace, {
            films: work.how?.video !== 'never',
            policy: outgoing,
          }),
        ),
        eyes,
        work.pictures,
      ),
    }
  return engines.open(work, pace, seat)
}

await Promise.all(
  agents
    .flatMap((configured) => {
      const options = registrationOf(configured)
      return options ? [{ options, bridge: configured.bridge }] : []
    })
    .map(({ options, bridge }) =>
      runAgent(
        options,
        {
          client,
          sent,
          spool,
          say,
          pulse,
          outgoing,
          openDriver: (work, pace, faults, seat) =>
            openDriver({ ...options, ...(bridge && { bridge }) }, work, pace, faults, seat),
        },
        ending.signal,
      ),
    ),
).catch((error: Error) => {
  if (!ending.signal.aborted) {
    console.error(error.message)
    process.exitCode = 1
  }
})
pulse.end()
await Promise.all([engines.close(), painter.close()])
process.exit()
