import { sql } from 'drizzle-orm'
import { SMTPServer } from 'smtp-server'
import { simpleParser, type ParsedMail } from 'mailparser'
import type { AddressInfo } from 'node:net'
import { claimWork, finishAttempt } from '../dispatch'
import { setMail } from '../mail'
import { startRotation } from '../rota'
import {
  addAgent,
  laterBy,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import {
  addRotationMail,
  enqueueDueMails,
  MAIL_REPORT,
  mailReport,
  removeRotationMail,
  reportMailLines,
  tryRotationMail,
  type ReportMailRequest,
} from './mails'

let ctx: TestContext
let server: SMTPServer
let isFull = false
const received: ParsedMail[] = []
beforeAll(async () => {
  ctx = await testContext()
  server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onData: (stream, _, done) => {
      void simpleParser(stream).then((mail) => {
        if (isFull) return done(Object.assign(new Error('mailbox full'), { responseCode: 452 }))
        received.push(mail)
        done()
      })
    },
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const { port } = server.server.address() as AddressInfo
  await setMail(ctx, { host: '127.0.0.1', port, from: 'oak@fennel-sound.invalid' }, 'Tomas')
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a'),
    'one.suite.yaml': simpleSuite('one', ['a']),
    'nightly.rotation.yaml':
      'rotation: nightly\ntitle: Every Night\nwhat: [{ suite: one }]\nwhere: { environments: [wide] ' +
      '}\nretries: 0\n',
  })
})
afterAll(async () => {
  await new Promise<void>((resolve) => server.close(resolve))
  await ctx.end()
})
beforeEach(async () => {
  received.length = 0
  isFull = false
  await ctx.db.execute(sql`truncate report_mails`)
  await ctx.db.execute(sql`delete from graphile_worker._private_jobs`)
})

const add = (change: Partial<ReportMailRequest> = {}) =>
  addRotationMail(
    ctx,
    'nightly',
    { recipients: ['wren@fennel-sound.invalid'], format: 'html', about: 'run', every: 'run', ...change },
    'Wren',
  )
const jobs = async () =>
  (
    await ctx.db.execute<{ payload: { mail: string; run?: number } }>(
      sql`select payload from graphile_worker._private_jobs j
        join graphile_worker._private_tasks t on t.id = j.task_id where t.identifier = ${MAIL_REPORT}`,
    )
  ).rows.map(({ payload }) => payload)
async function runOnce(): Promise<number> {
  const agent = await addAgent(ctx, 'skerrow-01')
  const id = await startRotation(ctx, 'nightly', {}, 'Wren')
  const work = (await claimWork(ctx, agent))!
  const failure = { kind: 'check', message: 'Another fare', path: 'main.0' } as const
  await finishAttempt(ctx, work, { outcome: 'failed', ms: 5, failure })
  return id
}

test('after each run the report goes out, with what failed in the words of the mail', async () => {
  await add({ recipients: ['wren@fennel-sound.invalid', 'maren@fennel-sound.invalid'] })
  const run = await runOnce()
  const [job] = await jobs()
  expect(job).toMatchObject({ run })
  await mailReport(ctx, job!)
  expect(received).toHaveLength(1)
  const [mail] = received
  expect(mail!.subject).toBe('Every Night, build 1.0: 1 failed')
  expect(mail!.text).toContain('- A (wide): Another fare')
  expect([mail!.to].flat()[0]!.text).toContain('maren@fennel-sound.invalid')
  expect(mail!.attachments.map(({ filename }) => filename)).toEqual([`run-${run}.html`])
  expect(String(mail!.attachments[0]!.content)).toContain('Another fare')
  expect(await reportMailLines(ctx, 'nightly')).toMatchObject([{ lastProblem: null }])
})

test('at its time, once, whoever looks; what was missed goes out once', async () => {
  await add({ every: 'day', time: '07:00', zone: 'Europe/Berlin', about: 'runs', runs: 5, format: 'xlsx' })
  const [line] = await reportMailLines(ctx, 'nightly')
  expect(await enqueueDueMails(ctx)).toBe(0)
  const later = laterBy(ctx, 9 * 86_400_000)
  expect((await Promise.all([enqueueDueMails(later), enqueueDueMails(later)])).sort()).toEqual([0, 1])
  expect(await jobs()).toEqual([{ mail: line!.id }])
  const [next] = await reportMailLines(ctx, 'nightly')
  expect(Date.parse(next!.nextAt!)).toBeGreaterThan(Date.parse(line!.nextAt!))
  await mailReport(ctx, { mail: line!.id })
  expect(received[0]!.attachments[0]!.filename).toBe('rotation-nightly.xlsx')
})

test('a mail that is not taken says why and is tried again; one that was removed is sent no more', async () => {
  const { id } = await add()
  isFull = true
  await expect(mailReport(ctx, { mail: id })).rejects.toThrow(/does not take it/)
  expect((await reportMailLines(ctx, 'nightly'))[0]!.lastProblem).toContain('mailbox full')
  await expect(tryRotationMail(ctx, 'nightly', id)).rejects.toMatchObject({ code: 'MAIL_REFUSED' })
  await removeRotationMail(ctx, 'nightly', id, 'Wren')
  isFull = false
  await mailReport(ctx, { mail: id })
  expect(received).toEqual([])
  await expect(removeRotationMail(ctx, 'nightly', id, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test.each([
  ['a rotation that is not there', 'weekly', {}, 'NOT_FOUND'],
  ['a time without a zone', 'nightly', { every: 'day', time: '07:00' }, 'BODY_INVALID'],
  ['a week without a day', 'nightly', { every: 'week', time: '07:00', zone: 'UTC' }, 'BODY_INVALID'],
  ['a zone that is none', 'nightly', { every: 'day', time: '07:00', zone: 'Mare/Nubium' }, 'BODY_INVALID'],
] as const)('%s is refused', async (_, key, change, code) => {
  const asked: ReportMailRequest = {
    recipients: ['wren@fennel-sound.invalid'],
    format: 'pdf',
    about: 'run',
    every: 'run',
    ...change,
  }
  await expect(addRotationMail(ctx, key, asked, 'Wren')).rejects.toMatchObject({ code })
  expect(await reportMailLines(ctx, 'nightly')).toEqual([])
})
