import type { AddressInfo } from 'node:net'
import { sql } from 'drizzle-orm'
import { simpleParser, type ParsedMail } from 'mailparser'
import { SMTPServer } from 'smtp-server'
import { mailLine, removeMail, sendMail, setMail, tryMail, type MailRequest } from './mail'
import { testContext, type TestContext } from './testing/context'

let ctx: TestContext
let server: SMTPServer
let mode: 'up' | 'full' = 'up'
const received: ParsedMail[] = []
beforeAll(async () => {
  ctx = await testContext()
  server = new SMTPServer({
    authOptional: false,
    allowInsecureAuth: true,
    disabledCommands: ['STARTTLS'],
    onAuth: ({ username, password }, _, done) =>
      username === 'oak' && password === 'low-tide' ? done(null, { user: 'oak' }) : done(new Error('wrong')),
    onData: (stream, _, done) => {
      void simpleParser(stream).then((mail) => {
        if (mode === 'full') return done(Object.assign(new Error('mailbox full'), { responseCode: 452 }))
        received.push(mail)
        done()
      })
    },
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
})
afterAll(async () => {
  await new Promise<void>((resolve) => server.close(resolve))
  await ctx.end()
})

const ours = (change: Partial<MailRequest> = {}): MailRequest => ({
  host: '127.0.0.1',
  port: (server.server.address() as AddressInfo).port,
  from: 'oak@fennel-sound.invalid',
  username: 'oak',
  password: 'low-tide',
  ...change,
})

test.each([
  ['a wrong password', { password: 'high-tide' }, 'MAIL_REFUSED'],
  ['nobody at the port', { port: 9 }, 'MAIL_REFUSED'],
  ['the address of the cloud', { host: '169.254.169.254', port: 25 }, 'OUTGOING_REFUSED'],
])('%s: nothing is kept', async (_, change, code) => {
  await expect(setMail(ctx, ours(change), 'Tomas')).rejects.toMatchObject({ code })
  expect(await mailLine(ctx)).toBeNull()
})

test('what lets us in is kept, its password sealed and shown to nobody; mail goes by it', async () => {
  await setMail(ctx, ours(), 'Tomas')
  expect(JSON.stringify(await mailLine(ctx))).not.toContain('low-tide')
  expect(JSON.stringify((await ctx.db.execute(sql`select * from settings`)).rows)).not.toContain('low-tide')
  expect(JSON.stringify((await ctx.db.execute(sql`select * from audit`)).rows)).not.toContain('low-tide')
  await setMail(ctx, ours({ password: '' }), 'Tomas') // the password before stays
  await tryMail(ctx, 'wren@fennel-sound.invalid', 'Tomas')
  expect(received.at(-1)).toMatchObject({ subject: expect.stringContaining('try the mail') as unknown })
})

test('an address cannot bring lines of its own into a message', async () => {
  await sendMail(ctx, {
    to: 'wren@fennel-sound.invalid',
    subject: 'Board\r\nBcc: everybody@fennel-sound.invalid',
    text: 'x',
    id: 'one',
  })
  const { headers } = received.at(-1)!
  expect(headers.has('bcc')).toBe(false)
})

test('a server that does not take it says why', async () => {
  mode = 'full'
  await expect(
    sendMail(ctx, { to: 'wren@fennel-sound.invalid', subject: 's', text: 't', id: 'two' }),
  ).rejects.toThrow(/mailbox full/)
  mode = 'up'
  await removeMail(ctx, 'Tomas')
  await expect(
    sendMail(ctx, { to: 'wren@fennel-sound.invalid', subject: 's', text: 't', id: 'three' }),
  ).rejects.toThrow('No mail server is set up.')
})
