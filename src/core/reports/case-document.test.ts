import { createHash } from 'node:crypto'
import type { OutlineLine } from '../execution'
import { outlineLine } from '../execution/testing/lines'
import { caseDocument, hashesOf, sealed, verdictOn, type DocumentedAttempt } from './case-document'

const sha256 = (of: string | Uint8Array) => createHash('sha256').update(of).digest('hex')
const bytesOf = (base64: string) => Buffer.from(base64, 'base64')
const PICTURE = Buffer.from('a picture')
const HASH = sha256(PICTURE)
const screen = (hash: string) => ({ hash, width: 8, height: 8, atMs: 3 })

const line = (path: string, more: Partial<OutlineLine> = {}): OutlineLine =>
  outlineLine(path, { verb: 'check', object: 'fare', detail: 'is 45' }, { startMs: 10, ms: 5, ...more })
const attempt = (lines: OutlineLine[]): DocumentedAttempt => ({
  id: '4f1c0d3e-0000-4000-8000-000000000001',
  title: 'A fare is shown',
  caseKey: 'fare',
  runId: 7,
  runTitle: 'Night Full',
  build: '2026.11.4',
  environment: { key: 'wide', title: 'Chromium, Debian', width: 1280, height: 800, simulated: false },
  agent: 'maren-01',
  row: { index: 1, of: 2, values: { port: 'Skerrow' } },
  mark: 'failed',
  number: 1,
  startedAt: '2026-11-29T22:00:00.000Z',
  ms: 900,
  facts: { browser: 'Chromium 156' },
  role: '',
  marked: [],
  lines,
  video: { hash: 'c'.repeat(64), startMs: 0 },
  startedBy: 'Wren Adeyemi',
})
const make = (lines: OutlineLine[]) =>
  sealed(
    caseDocument(attempt(lines), new Map([[HASH, `data:image/png;base64,${PICTURE.toString('base64')}`]]), {
      at: '2026-11-30T05:00:00.000Z',
      by: 'Wren Adeyemi',
    }),
    sha256,
  )
const LINES = [
  line('main.0', { after: screen(HASH), values: { fare: '45' } }),
  line('main.1', {
    mark: 'failed',
    failing: true,
    before: screen(HASH),
    after: screen('b'.repeat(64)),
    failure: { kind: 'check', message: 'The <b>fare</b> is another', expected: '45', actual: '47 --> x' },
  }),
  line('main.2', { mark: 'skipped' }),
]
const judge = (file: string) => verdictOn(file, sha256, bytesOf)

test('marked screens stand before the steps, and are checked as the others', () => {
  const { marked: _, ...rest } = attempt(LINES)
  const one = { id: 'm', path: 'main.1', original: 'b'.repeat(64), hash: HASH, width: 8, height: 8 }
  const marked = [{ ...one, note: 'Cut <off>', markedBy: 'Priya', markedAt: '2026-11-30T05:00:00.000Z' }]
  const pictures = new Map([[HASH, `data:image/png;base64,${PICTURE.toString('base64')}`]])
  const made = { at: '2026-11-30T05:00:00.000Z', by: 'Wren Adeyemi' }
  const file = sealed(caseDocument({ ...rest, marked }, pictures, made), sha256)
  expect(file.indexOf('Cut &lt;off&gt;')).toBeLessThan(file.indexOf('<h2>Steps'))
  expect(judge(file)).toMatchObject({ sound: true, pieces: 2 })
})

test('it tells steps, values, checks, who and where, with each screen once', () => {
  const file = make(LINES)
  for (const words of [
    'A fare is shown',
    'started by Wren Adeyemi',
    'fare = 45',
    'port = Skerrow',
    '47 --&gt; x',
  ])
    expect(file).toContain(words)
  expect(file).toContain('The &lt;b&gt;fare&lt;/b&gt; is another')
  expect(file).toContain('not carried out')
  expect(file.match(/<img/g)).toHaveLength(1)
  expect(file).toContain(`${'b'.repeat(64)}</code>, not in this file`)
  // at the top, and at its step
  expect(file.match(/is another/g)).toHaveLength(2)
  expect(file).not.toContain('<script')
})

test('as it was made it is sound', () => {
  const file = make(LINES)
  expect(judge(file)).toEqual({ sound: true, hash: expect.any(String), pieces: 1 })
  // as some programs save it
  expect(judge(file.trimEnd())).toMatchObject({ sound: true })
})

test.each<[string, (file: string) => string, string]>([
  ['a word', (file) => file.replace('failed', 'passed'), 'it was changed'],
  [
    'a letter at its end',
    (file) => file.replace('./oak verify FILE', './oak verify FILE.'),
    'it was changed',
  ],
  ['its last line', (file) => file.replace(/<!-- sha256.*/, ''), 'no hash in its last line'],
  ['something after it', (file) => `${file}<p>more</p>`, 'no hash in its last line'],
  ['all of it', () => '', 'no hash in its last line'],
])('%s that was changed is told', (_, change, why) => {
  expect(judge(change(make(LINES)))).toMatchObject({ sound: false, why: expect.stringContaining(why) })
})

test('a picture that was put in the place of another is told, also where the whole was sealed anew', () => {
  const [document] = make(LINES)
    .replace(PICTURE.toString('base64'), Buffer.from('another').toString('base64'))
    .split('<!-- sha256')
  expect(judge(sealed(document!, sha256))).toMatchObject({
    sound: false,
    why: `the picture ${HASH} is another one`,
  })
})

test('an attempt without steps has a document, too', () => {
  expect(judge(make([]))).toMatchObject({ sound: true, pieces: 0 })
  expect(hashesOf([])).toEqual([])
})
