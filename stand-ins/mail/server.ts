/** A mail server that takes everything and delivers nothing: what was sent can be read in a browser, beside
 * the tracker. It keeps the last mails until it ends. */
import { simpleParser } from 'mailparser'
import { SMTPServer } from 'smtp-server'
import { download, esc, page, type Answer } from '../ferry/http'

const MAILS_MOST = 200
const BYTES_MOST = 25_000_000

type Attachment = { name: string; type: string; bytes: Buffer }
type Mail = { number: number; at: Date; to: string; subject: string; text: string; attachments: Attachment[] }

/** What came, the newest first, and pages to read it. */
export class Mailbox {
  private readonly mails: Mail[] = []
  private taken = 0

  add(mail: Omit<Mail, 'number'>): void {
    this.mails.unshift({ ...mail, number: ++this.taken })
    this.mails.length = Math.min(this.mails.length, MAILS_MOST)
  }

  /** @returns `undefined`: it is no page of this mailbox */
  answer(path: string): Answer | undefined {
    if (path === '/mails') return page(this.list())
    const [, number, nth] = /^\/mails\/(\d+)(?:\/(\d+))?$/.exec(path) ?? []
    const mail = this.mails.find((one) => one.number === Number(number))
    if (!mail) return undefined
    if (nth === undefined) return page(letter(mail))
    const found = mail.attachments[Number(nth)]
    return found && { ...download(found.name, ''), body: found.bytes }
  }

  private list(): string {
    const rows = this.mails.map(
      ({ number, at, to, subject }) =>
        `<tr><td>${esc(at.toISOString().slice(0, 16).replace('T', ' '))}</td><td>${esc(to)}</td><td><a ` +
        `href="/mails/${number}">${esc(subject)}</a></td></tr>`,
    )
    return (
      '<!doctype html><title>Mails</title><h1>Mails of the ferry line</h1><p>A stand-in: it takes ' +
      'every mail, delivers none, and forgets them when it ' +
      `ends.</p><table>${rows.join('') || '<tr><td>No mail has come yet.</td></tr>'}</table>`
    )
  }
}

const letter = ({ number, at, to, subject, text, attachments }: Mail): string =>
  [
    `<!doctype html><title>${esc(subject)}</title><p><a href="/mails">All mails</a></p>`,
    `<h1>${esc(subject)}</h1><p>To ${esc(to)}, ${esc(at.toISOString())}</p><pre>${esc(text)}</pre>`,
    ...attachments.map(
      (one, i) => `<p><a href="/mails/${number}/${i}">${esc(one.name)}</a>, ${one.bytes.length} bytes</p>`,
    ),
  ].join('')

export async function startMail(port: number, mailbox: Mailbox): Promise<SMTPServer> {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    size: BYTES_MOST,
    onData: (stream, _, done) => {
      simpleParser(stream).then(
        ({ to, subject = '', text = '', attachments }) => {
          const lines = [to ?? []].flat().map((one) => one.text)
          mailbox.add({
            at: new Date(),
            to: lines.join(', '),
            subject,
            text,
            attachments: attachments.map(({ filename, contentType, content }) => ({
              name: filename ?? 'attachment',
              type: contentType,
              bytes: content,
            })),
          })
          done()
        },
        (error: Error) => done(error),
      )
    },
  })
  server.on('error', () => {}) // a client that goes away is no matter
  await new Promise<void>((resolve, reject) => {
    server.server.once('error', reject)
    server.listen(port, '127.0.0.1', resolve)
  })
  return server
}
