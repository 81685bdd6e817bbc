/** Starts all stand-ins. They are made up, and say so: nothing here is part of the product. */
import { isSurprises } from './ferry/faults'
import { startFerry } from './ferry/server'
import { Mailbox, startMail } from './mail/server'
import { startTracker } from './tracker/server'

const {
  STAND_INS_DATABASE_URL: databaseUrl,
  FERRY_PORT,
  TRACKER_PORT,
  MAIL_PORT,
  FERRY_SEED = 'fennel',
  FERRY_SURPRISES = 'all',
} = process.env
if (!databaseUrl) throw new Error('STAND_INS_DATABASE_URL is not set')
if (!isSurprises(FERRY_SURPRISES)) throw new Error('FERRY_SURPRISES is all, instant or none')

const mailbox = new Mailbox()
const servers = await Promise.all([
  startFerry({
    port: Number(FERRY_PORT),
    databaseUrl,
    seed: FERRY_SEED,
    surprises: FERRY_SURPRISES,
  }),
  startTracker({ port: Number(TRACKER_PORT), databaseUrl, mailbox }),
])
const mail = await startMail(Number(MAIL_PORT), mailbox)
console.log(
  `stand-ins: ferry applications on ${FERRY_PORT}, tracker and mails on ${TRACKER_PORT}, SMTP on ${MAIL_PORT}`,
)

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, () => {
    for (const server of servers) server.close()
    mail.close()
    process.exit(0)
  })
}
