/** Prepares the database for a start: brings the schema up to date, and seeds what is not there yet. */
import { randomBytes } from 'node:crypto'
import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { runMigrations } from 'graphile-worker'
import { migrateDatabase } from '@/db/client'
import { putSetting, setting } from '@/db/settings'
import { makeContext } from '@/server/context'
import { refreshDefinitions } from '@/server/definitions'
import { addPersonWithPassword } from '@/server/people'
import { sealWhatIsPlain } from '@/server/seal-plain'
import { DEMO_PASSWORD, PEOPLE, REAL_FLEET, SIMULATED_FLEET, type FleetAgent } from './fleet'
import { logDemoDefects } from './defects'
import { makeHistory } from './history'
import { startRounds } from './rounds'
import { makeStandInsDatabase } from './stand-ins-database'
import { seedBasics, seedFerryLine, seedRepository } from './workspace'

const say = (text: string) => console.log(text)
const need = (name: string): string => {
  const value = process.env[name]
  if (!value) throw new Error(`${name} is not set`)
  return value
}

const [step] = process.argv.slice(2)
const url = need('DATABASE_URL')
if (step === 'stand-ins') {
  await makeStandInsDatabase(url, need('STAND_INS_DATABASE_URL'), need('FERRY_RECORDS_URL'))
  process.exit()
}
if (step === 'migrate') {
  await migrateDatabase(url, need('OAK_MIGRATIONS'))
  await runMigrations({ connectionString: url })
  process.exit()
}

const ctx = makeContext(process.env)
await refreshDefinitions(ctx)
await sealWhatIsPlain(ctx)
const token = need('OAK_AGENT_TOKEN')
const tokenId = await seedBasics(ctx, token)

/** Agents are told by file what they are, so that the launcher need not know. */
const writeFleet = (name: string, agents: FleetAgent[]) =>
  writeFile(
    join(ctx.home, `${name}.json`),
    JSON.stringify({ server: need('OAK_URL'), token, agents }, null, 2),
    { mode: 0o600 },
  )

for (const agent of REAL_FLEET) await writeFleet(`agent-${agent.name}`, [agent])
if (step === 'demo') {
  await writeFleet('agent-fleet', SIMULATED_FLEET)
  const [ferry, tracker] = [need('FERRY_URL'), need('TRACKER_URL')]
  const now = new Date()
  const mailPort = Number(need('MAIL_PORT'))
  await seedFerryLine(ctx, { ferry, tracker, mailPort, now, records: need('FERRY_RECORDS_URL') })
  if (!(await setting(ctx.db, 'demo'))) {
    const begun = performance.now()
    say('making the demo: a repository, three nights of runs on a virtual clock')
    await fetch(`${ferry}/control/surprises?are=instant`, { method: 'POST' })
    await seedRepository(ctx, need('OAK_DEMO_CASES'))
    await makeHistory(ctx, tokenId, now, process.env.OAK_DEMO_HISTORY === 'short', say)
    await logDemoDefects(ctx)
    await startRounds(ctx)
    await putSetting(ctx.db, 'demo', { madeAt: now.toISOString() })
    say(`the demo is made, in ${((performance.now() - begun) / 1000).toFixed(1)} s`)
  }
  await fetch(`${ferry}/control/surprises`, { method: 'POST' })
  say(`mails of the demo are read at ${tracker}/mails`)
  say(`people: ${PEOPLE.map(({ username }) => username).join(', ')}; password of each: ${DEMO_PASSWORD}`)
} else if (!(await setting(ctx.db, 'first-admin'))) {
  const password = randomBytes(9).toString('base64url')
  await addPersonWithPassword(ctx, { name: 'Administrator', username: 'admin', role: 'admin', password })
  await putSetting(ctx.db, 'first-admin', true)
  say(`sign in as admin with the password ${password} (shown once)`)
}
await ctx.connection.close()
process.exit()
