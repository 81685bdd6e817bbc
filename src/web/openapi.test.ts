/** The OpenAPI document against the routes, against docs/agent-protocol.md, and against real answers. */
import { readFileSync } from 'node:fs'
import Ajv from 'ajv'
import { claimWork, finishAttempt, heartbeat } from '@/server/dispatch'
import { openApiDocument, OPERATIONS } from '@/server/openapi'
import { startRun } from '@/server/runs'
import { addAgent, seedFiles, simpleCase, testContext, type TestContext } from '@/server/testing/context'
import { comparisonsViewModel, runProgress, runViewModel } from '@/server/view-models'
import { agentRoutes } from './agents'

const ajv = new Ajv({ strict: false, allErrors: true, discriminator: true })
  .addFormat('uuid', /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/)
  .addFormat('date-time', (written: string) => !Number.isNaN(Date.parse(written)))
const document = openApiDocument('1.0.0') as {
  paths: Record<string, Record<string, { parameters?: { name: string; in: string }[]; operationId: string }>>
}
const operation = (id: string) => OPERATIONS.find((one) => one.id === id)!

test('every route of the agent protocol is in it, and no other', () => {
  const ofAgents = OPERATIONS.filter(({ token }) => token === 'agent')
  expect(ofAgents.map(({ method, path }) => `${method} ${path}`).sort()).toEqual(
    agentRoutes.map(({ method, path }) => `${method} ${path}`).sort(),
  )
})

test('each address has its parameters, each operation a name of its own', () => {
  const all = Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.values(methods).map((one) => ({ path, ...one })),
  )
  expect(all).toHaveLength(OPERATIONS.length)
  expect(new Set(all.map(({ operationId }) => operationId)).size).toBe(all.length)
  for (const { path, parameters = [] } of all)
    expect([...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name)).toEqual(
      parameters.filter((one) => one.in === 'path').map(({ name }) => name),
    )
})

describe('docs/agent-protocol.md', () => {
  const text = readFileSync('docs/agent-protocol.md', 'utf8')
  test('names every operation', () => {
    for (const { method, path, token } of OPERATIONS)
      if (token === 'agent')
        expect(text).toContain(
          `${method} ${path.replace(':id', 'ID').replace(':attempt', 'ATTEMPT').replace(':hash', 'HASH')}`,
        )
  })
  test.each([
    ['register', '## Register'],
    ['finish', '## Finish'],
    ['meet', '## Meetings'],
  ])('the example of %s is one that the server takes', (id, heading) => {
    const example = /```json\n([\s\S]*?)\n```/.exec(text.slice(text.indexOf(heading)))![1]!
    const validate = ajv.compile(operation(id).body as object)
    validate(JSON.parse(example))
    expect(validate.errors).toBeNull()
  })
  test('its table of events has every type, with the fields that are needed', () => {
    const { properties } = operation('sendEvents').body as {
      properties: { events: { items: { oneOf: { properties: object; required: string[] }[] } } }
    }
    for (const { properties: fields, required } of properties.events.items.oneOf) {
      const type = (fields as { type: { const: string } }).type.const
      const row = new RegExp(`^\\| \`${type}\` \\|(.*)\\|$`, 'm').exec(text)?.[1]
      expect([type, row]).toEqual([type, expect.any(String)])
      for (const name of Object.keys(fields))
        if (!['no', 'atMs', 'type'].includes(name) && required.includes(name))
          expect(row).toContain(`\`${name}`)
    }
  })
})

describe('real answers are as it says', () => {
  let ctx: TestContext
  beforeAll(async () => {
    ctx = await testContext()
    await seedFiles(ctx, { 'a.case.yaml': simpleCase('a') })
  })
  afterAll(() => ctx.end())
  const expectAnswer = (id: string, answer: unknown) => {
    const validate = ajv.compile(operation(id).answer!.schema)
    validate(JSON.parse(JSON.stringify(answer)))
    expect(validate.errors).toBeNull()
  }

  test('claim, heartbeat and a run', async () => {
    const agent = await addAgent(ctx, 'desk')
    const what = { cases: ['a'], environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 }
    const run = await startRun(ctx, what, 'Wren')
    const work = (await claimWork(ctx, agent))!
    expectAnswer('claim', { work })
    expectAnswer('claim', { work: null })
    expectAnswer(
      'heartbeat',
      await heartbeat(ctx, agent, { attempts: [{ attemptId: work.attemptId, lease: 9 }] }),
    )
    expectAnswer('readRun', await runViewModel(ctx, run))
    expectAnswer('readProgress', await runProgress(ctx, run))
    const failure = { kind: 'check' as const, message: 'it is 3', expected: 'is “4”', actual: '3' }
    await finishAttempt(ctx, work, { outcome: 'failed', ms: 5, failure }, [
      { no: 1, atMs: 1, type: 'step-ended', path: 'main.1', outcome: 'failed', ms: 1, failure },
    ])
    const compared = await comparisonsViewModel(ctx, run)
    expect(compared).toEqual([{ attemptId: work.attemptId, expected: 'is “4”', actual: '3' }])
    expectAnswer('readComparisons', compared)
  })
})
