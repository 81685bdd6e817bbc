import { createHash } from 'node:crypto'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { sql } from 'drizzle-orm'
import { STANDARD_MAPPING } from '@/core/tracker'
import { defectById, noteSent } from '@/db/defects'
import { addEvidence } from '@/db/evidence'
import { addAgent, seedFiles, testContext, type TestContext } from '../testing/context'
import { keepCauses, triageViewModel } from '../triage'
import { failedRun, FAILING_FILES } from '../triage/testing/failing'
import { adoptIssue, attachEvidence, foundAtTracker, messagesViewModel, setTracker, tryMapping } from '.'
import { addedDefect } from './testing/defect'

type Asked = { method: string; path: string; body: string }
let ctx: TestContext
let tracker: Server
let attemptId: string
const asked: Asked[] = []
/** What the tracker answers, by method and the beginning of the path. */
let answers: Record<string, [number, unknown]> = {}
beforeAll(async () => {
  ctx = await testContext()
  tracker = createServer((request, response) => {
    const parts: Buffer[] = []
    request
      .on('data', (part: Buffer) => parts.push(part))
      .on('end', () => {
        const one = { method: request.method!, path: request.url!, body: Buffer.concat(parts).toString() }
        asked.push(one)
        const known = Object.entries(answers).find(([begin]) => `${one.method} ${one.path}`.startsWith(begin))
        const [status, body] = known?.[1] ?? [200, []]
        response.writeHead(status).end(JSON.stringify(body))
      })
  })
  await new Promise<void>((resolve) => tracker.listen(0, '127.0.0.1', resolve))
  await setTracker(ctx, { url: `http://127.0.0.1:${(tracker.address() as AddressInfo).port}` }, 'Tomas')
  await seedFiles(ctx, FAILING_FILES)
  await failedRun(ctx, await addAgent(ctx, 'wide', 1, ['wide']))
  await keepCauses(ctx)
  attemptId = (await triageViewModel(ctx, 2)).groups[0]!.members[0]!.attemptId!
})
afterAll(async () => {
  tracker.close()
  await ctx.end()
})
beforeEach(async () => {
  await ctx.db.execute(sql`truncate defects, cause_decisions cascade`)
  asked.length = 0
  answers = {}
})
const ISSUE = { number: 'T-9', title: 'The list stays empty', state: 'in work', url: 'http://tracker/T-9' }

test('an issue of the tracker becomes a defect of that number once, and is told of the failure', async () => {
  answers['GET /api/issues/T-9'] = [200, ISSUE]
  const first = await adoptIssue(ctx, { attemptId, evidence: [], number: 'T-9' }, 'Wren')
  expect(first).toMatchObject({ said: true, decided: true })
  expect(await defectById(ctx.db, first.id)).toMatchObject({
    title: 'The list stays empty',
    state: 'sent',
    trackerNumber: 'T-9',
    trackerState: 'in work',
  })
  const again = await adoptIssue(ctx, { attemptId, evidence: [], number: 'T-9' }, 'Joss')
  expect(again).toEqual({ id: first.id, said: false, decided: false })
  expect(await messagesViewModel(ctx, first.id)).toHaveLength(1)
})

test('two who take over the same issue at the same moment make one defect of it', async () => {
  answers['GET /api/issues/T-9'] = [200, ISSUE]
  const [first, second] = await Promise.allSettled(
    ['Wren', 'Joss'].map((who) => adoptIssue(ctx, { attemptId, evidence: [], number: 'T-9' }, who)),
  )
  expect([first!.status, second!.status]).toContain('fulfilled')
  expect((await ctx.db.execute(sql`select 1 from defects`)).rows).toHaveLength(1)
})

test.each<[string, [number, unknown]]>([
  ['it is not there', [404, {}]],
  ['it answers nonsense', [200, 'no issue']],
  ['it is down', [503, {}]],
])('nothing is changed where %s', async (_, answer) => {
  answers['GET /api/issues/T-9'] = answer
  await expect(adoptIssue(ctx, { attemptId, evidence: [], number: 'T-9' }, 'Wren')).rejects.toMatchObject({
    code: 'TRACKER_DOWN',
  })
  expect((await ctx.db.execute(sql`select 1 from defects`)).rows).toEqual([])
})

test('what it finds is told in our words, and what is no list is said', async () => {
  answers['GET /api/issues?q=empty+list'] = [
    200,
    [ISSUE, { ...ISSUE, number: 10, url: 'javascript:alert(1)' }],
  ]
  expect(await foundAtTracker(ctx, 'empty list')).toEqual([ISSUE, { ...ISSUE, number: '10', url: '' }])
  answers['GET /api/issues?q=nothing'] = [200, { none: true }]
  await expect(foundAtTracker(ctx, 'nothing')).rejects.toMatchObject({ code: 'TRACKER_DOWN' })
})

test('an example is sent as the mapping says, closed, and what became of it is told', async () => {
  answers = {
    'POST /api/issues/T-9/comments': [201, {}],
    'POST /api/issues': [201, { ...ISSUE, state: 'new' }],
    'GET /api/issues/T-9': [200, { ...ISSUE, state: 'ashore' }],
  }
  const states = { ...STANDARD_MAPPING.states, close: 'sink' }
  const fields = [{ name: 'crew', value: '${owner}' }]
  const mapping = { ...STANDARD_MAPPING, states, fields, people: { Tomas: 'tom' } }
  const by = { key: 'example-1', person: 'Tomas' }
  expect(await tryMapping(ctx, mapping, by)).toEqual([
    'It took the example as T-9, in the state “new”.',
    'Closed by “sink”, it says “ashore”.',
    'That word is none of those for closed: such a defect would count as open here.',
  ])
  expect(JSON.parse(asked[0]!.body)).toMatchObject({ key: 'example-1', crew: 'tom' })
  answers['POST /api/issues/T-9/comments'] = [422, {}]
  await expect(tryMapping(ctx, mapping, by)).rejects.toMatchObject({
    code: 'TRACKER_DOWN',
    message: 'It took the example as T-9, in the state “new”. The tracker answers 422.',
  })
})

test.each<[string, unknown, string]>([
  ['what it says is wrong', { error: ' crew is no field ' }, 'The tracker answers 422: crew is no field'],
  ['by a usual name', { title: '', detail: 'crew is empty' }, 'The tracker answers 422: crew is empty'],
  ['not whole files', { error: 'x'.repeat(9000) }, `The tracker answers 422: ${'x'.repeat(300)}`],
  ['nothing that is no text', { error: { crew: 1 } }, 'The tracker answers 422.'],
  ['nothing of nothing', null, 'The tracker answers 422.'],
])('of a refusal is told %s', async (_, answer, message) => {
  answers = { 'POST /api/issues': [422, answer] }
  const by = { key: 'example-2', person: 'Tomas' }
  await expect(tryMapping(ctx, STANDARD_MAPPING, by)).rejects.toMatchObject({ message })
})

describe('evidence', () => {
  async function defectWithPieces(): Promise<number> {
    const id = await addedDefect(ctx)
    const evidence = []
    for (const text of ['one', 'two']) {
      const [bytes, hash] = [Buffer.from(text), createHash('sha256').update(text).digest('hex')]
      await ctx.evidence.put(hash, bytes)
      await addEvidence(ctx.db, { hash, mime: 'image/png', bytes: bytes.length })
      evidence.push({ kind: 'screen-after', hash })
    }
    await ctx.db.execute(
      sql`update defects set evidence = ${JSON.stringify(evidence)}::jsonb where id = ${id}`,
    )
    await noteSent(ctx.db, id, { number: 'T-9', state: 'open', url: '' })
    return id
  }

  test('goes piece by piece, and goes on where the tracker was lost', async () => {
    const id = await defectWithPieces()
    answers['PUT /api/issues/T-9/attachments/2-'] = [503, {}]
    await expect(attachEvidence(ctx, id)).rejects.toThrow('The tracker answers 503.')
    expect(await defectById(ctx.db, id)).toMatchObject({
      attached: 1,
      attachProblem: 'The tracker answers 503.',
    })
    answers = {}
    await attachEvidence(ctx, id)
    expect(asked.map(({ path, body }) => [path, body])).toEqual([
      ['/api/issues/T-9/attachments/1-screen-after.png', 'one'],
      ['/api/issues/T-9/attachments/2-screen-after.png', 'two'],
      ['/api/issues/T-9/attachments/2-screen-after.png', 'two'],
    ])
    expect(await defectById(ctx.db, id)).toMatchObject({ attached: 2, attachProblem: null })
  })

  test('stays here where the tracker takes none, which is said and not tried again', async () => {
    const id = await defectWithPieces()
    answers['PUT '] = [404, {}]
    await attachEvidence(ctx, id)
    expect(await defectById(ctx.db, id)).toMatchObject({
      attached: 0,
      attachProblem: 'The tracker does not take 1-screen-after.png.',
    })
  })
})
