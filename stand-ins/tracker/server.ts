/** A small issue tracker over HTTP: takes issues, gives them numbers and states, and can be told to be
 * down. */
import type { Server } from 'node:http'
import pg from 'pg'
import type { Mailbox } from '../mail/server'
import { esc, json, listen, page, readForm, send, type Answer } from '../ferry/http'

const TABLES = `
create schema if not exists tracker;
create sequence if not exists tracker.issue_number start 186;
create table if not exists tracker.issues (
  number text primary key, sender_key text unique, title text not null, body text not null,
  state text not null default 'open', created_at timestamptz not null default now());`

const MORE = `
alter table tracker.issues add column if not exists assignee text;
create table if not exists tracker.attachments (
  number text not null references tracker.issues, name text not null, mime text not null,
  bytes integer not null, primary key (number, name));`

const COMMENTS = `
create table if not exists tracker.comments (
  id serial primary key, number text not null references tracker.issues, sender_key text unique,
  said text not null, created_at timestamptz not null default now());`

const STATES = ['open', 'in work', 'said fixed', 'closed']
type Issue = { number: string; title: string; body: string; state: string; assignee: string | null }

export async function startTracker({
  port,
  databaseUrl,
  mailbox,
}: {
  port: number
  databaseUrl: string
  /** Its pages are shown beside the issues. */
  mailbox: Mailbox
}): Promise<Server> {
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 2 })
  pool.on('error', () => {})
  await pool.query(TABLES)
  await pool.query(COMMENTS)
  await pool.query(MORE)
  let down = false
  /** How long each answer takes, and a field that it refuses to be sent. */
  let [slowMs, refused] = [0, '']

  /** The same key twice is the same issue: a sender that got no answer may ask again. */
  async function add(sent: Record<string, string>): Promise<Answer> {
    const { title, body, key } = sent
    if (refused !== '' && sent[refused] !== undefined)
      return json({ error: `${refused} is no field of this tracker` }, 422)
    if (typeof title !== 'string' || title.trim() === '' || typeof body !== 'string')
      return json({ error: 'title and body are needed' }, 422)
    const known = key
      ? (await pool.query<Issue>('select * from tracker.issues where sender_key = $1', [key])).rows[0]
      : undefined
    const issue =
      known ??
      (
        await pool.query<Issue>(
          `insert into tracker.issues (number, sender_key, title, body)
            values ('FSF-' || nextval('tracker.issue_number'), $1, $2, $3) returning *`,
          [key ?? null, title, body],
        )
      ).rows[0]!
    return json(
      { number: issue.number, state: issue.state, url: `http://127.0.0.1:${port}/issues/${issue.number}` },
      known ? 200 : 201,
    )
  }

  /** The same key twice is the same comment. */
  async function comment(issue: Issue, said: Record<string, string>): Promise<Answer> {
    const { key, text, state, assignee } = said
    if (typeof text !== 'string' || text.trim() === '') return json({ error: 'text is needed' }, 422)
    if (state !== undefined && !STATES.includes(state))
      return json({ error: `state must be one of ${STATES.join(', ')}` }, 422)
    const added = await pool.query(
      `insert into tracker.comments (number, sender_key, said) values ($1, $2, $3)
        on conflict (sender_key) do nothing`,
      [issue.number, key ?? null, text],
    )
    if (state !== undefined && added.rowCount === 1)
      await pool.query('update tracker.issues set state = $2 where number = $1', [issue.number, state])
    if (assignee !== undefined && added.rowCount === 1)
      await pool.query('update tracker.issues set assignee = $2 where number = $1', [issue.number, assignee])
    return json({ number: issue.number, state: state ?? issue.state }, added.rowCount === 1 ? 201 : 200)
  }

  /** The same name twice is the same piece. Only its size is kept. */
  async function attach({ number: of }: Issue, name: string, mime: string, bytes: number): Promise<Answer> {
    await pool.query(
      `insert into tracker.attachments (number, name, mime, bytes) values ($1, $2, $3, $4)
        on conflict (number, name) do nothing`,
      [of, name.slice(0, 200), mime, bytes],
    )
    return json({ number: of, name, bytes }, 201)
  }

  /** Those with all of the words in them, the newest first. */
  const search = async (words: string): Promise<Issue[]> =>
    (
      await pool.query<Issue>(
        `select * from tracker.issues where (
            select coalesce(bool_and(position(word in lower(concat_ws(' ', number, title, body))) > 0), true)
            from regexp_split_to_table(lower($1), '\\s+') word) order by created_at desc limit 50`,
        [words.trim()],
      )
    ).rows

  async function pageOf({ number: of, title, state, body, assignee }: Issue): Promise<Answer> {
    const { rows } = await pool.query<{ said: string }>(
      'select said from tracker.comments where number = $1 order by id',
      [of],
    )
    const said = rows.map((row) => `<hr><pre>${esc(row.said)}</pre>`).join('')
    const pieces = await pool.query<{ name: string; bytes: number }>(
      'select name, bytes from tracker.attachments where number = $1 order by name',
      [of],
    )
    const list = pieces.rows.map(({ name, bytes }) => `<li>${esc(name)} (${bytes} bytes)`).join('')
    const standing = assignee === null ? esc(state) : `${esc(state)}, with ${esc(assignee)}`
    return page(
      `<!doctype html><title>${of}</title><h1>${of} ${esc(title)}</h1><p>${standing}</p>
<pre>${esc(body)}</pre><ul>${list}</ul>${said}`,
    )
  }

  const server = await listen(port, async (request, response) => {
    const url = new URL(request.url ?? '/', 'http://tracker')
    const [, number, about] =
      /^\/(?:api\/)?issues\/(FSF-\d+)(\/comments|\/attachments\/[^/]+)?$/.exec(url.pathname) ?? []
    const api = url.pathname.startsWith('/api/')
    if (url.pathname === '/health') return send(response, json({ ok: true, down }))
    if (url.pathname === '/control/down' && request.method === 'POST') {
      down = url.searchParams.get('on') === 'yes'
      return send(response, json({ down }))
    }
    if (url.pathname === '/control/slow' && request.method === 'POST') {
      slowMs = Math.min(60_000, Number(url.searchParams.get('ms')) || 0)
      return send(response, json({ slowMs }))
    }
    if (url.pathname === '/control/refuse' && request.method === 'POST') {
      refused = url.searchParams.get('field') ?? ''
      return send(response, json({ refused }))
    }
    // somebody works there, whether we reach it or not
    if (url.pathname === '/control/edited' && request.method === 'POST') {
      const [of, state, title] = ['number', 'state', 'title'].map((name) => url.searchParams.get(name))
      await pool.query(
        'update tracker.issues set state = coalesce($2, state), title = coalesce($3, title) where ' +
          'number = $1',
        [of, state, title],
      )
      return send(response, json({ number: of, state, title }))
    }
    const letter = mailbox.answer(url.pathname)
    if (letter) return send(response, letter)
    if (slowMs > 0) await new Promise((resolve) => setTimeout(resolve, slowMs))
    if (down) return send(response, json({ error: 'the tracker is down for maintenance' }, 503))
    if (url.pathname === '/api/issues' && request.method === 'POST')
      return send(response, await add(parse(await readForm(request))))
    if (url.pathname === '/api/issues' && request.method === 'GET')
      return send(response, json(await search(url.searchParams.get('q') ?? '')))
    const issue = number
      ? (await pool.query<Issue>('select * from tracker.issues where number = $1', [number])).rows[0]
      : undefined
    if (issue && api && about?.startsWith('/attachments/') && request.method === 'PUT') {
      const name = decodeURIComponent(about.slice('/attachments/'.length))
      const mime = request.headers['content-type'] ?? ''
      return send(response, await attach(issue, name, mime, await sizeOf(request)))
    }
    if (issue && api && about && request.method === 'POST')
      return send(response, await comment(issue, parse(await readForm(request))))
    if (issue && api && request.method === 'PATCH') {
      const { state } = parse(await readForm(request))
      if (!STATES.includes(state ?? ''))
        return send(response, json({ error: `state must be one of ${STATES.join(', ')}` }, 422))
      await pool.query('update tracker.issues set state = $2 where number = $1', [number, state])
      return send(response, json({ ...issue, state }))
    }
    const link = `http://127.0.0.1:${port}/issues/${number}`
    if (issue) return send(response, api ? json({ ...issue, url: link }) : await pageOf(issue))
    send(response, json({ error: 'not found' }, 404))
  })
  server.on('close', () => void pool.end())
  return server
}

/** In bytes; what was sent is not kept. */
async function sizeOf(request: AsyncIterable<unknown>): Promise<number> {
  let bytes = 0
  for await (const part of request) bytes += (part as Buffer).length
  return bytes
}

function parse(text: string): Record<string, string> {
  try {
    return JSON.parse(text) as Record<string, string>
  } catch {
    return {}
  }
}
