/** The operations that programs use: bodies by the schemas they are checked with, answers by those here. */
import { OUTCOMES } from '@/core/execution'
import { agentBodies } from '../dispatch'
import { buildBody } from '../builds'
import { rotationStartBody } from '../rota'
import type { Operation } from './document'

const object = (properties: Record<string, object>, required = Object.keys(properties)) => ({
  type: 'object',
  properties,
  required,
})
const TEXT = { type: 'string' }
const COUNT = { type: 'integer', minimum: 0 }
const UUID = { type: 'string', format: 'uuid' }
const list = (items: object) => ({ type: 'array', items })
const LEASE = { lease: { schema: COUNT, required: true } }

const WORK = object(
  {
    attemptId: UUID,
    lease: COUNT,
    number: COUNT,
    runId: COUNT,
    build: TEXT,
    seed: COUNT,
    limitMs: COUNT,
    role: TEXT,
    case: { type: 'object', description: 'A case, as docs/formats has it, in the form of the product' },
    routines: list({ type: 'object' }),
    environment: object({ key: TEXT, width: COUNT, height: COUNT, locale: TEXT, browser: TEXT, os: TEXT }),
    row: { type: ['object', 'null'], additionalProperties: TEXT },
    parameters: { type: 'object', additionalProperties: TEXT },
    applications: { type: 'object', additionalProperties: TEXT },
    how: { type: 'object' },
    recovery: { type: 'object' },
  },
  [
    'attemptId',
    'lease',
    'number',
    'runId',
    'build',
    'limitMs',
    'case',
    'routines',
    'environment',
    'applications',
  ],
)
const CLAIMED = object({ work: { anyOf: [WORK, { type: 'null' }] } })
const COMMAND = object(
  {
    attemptId: UUID,
    command: { enum: ['cancel', 'end', 'drop', 'pause', 'watch'] },
    undo: { type: 'boolean' },
    because: TEXT,
  },
  ['attemptId', 'command'],
)
const ATTEMPT = '/api/agents/:id/attempts/:attempt'

const AGENT_OPERATIONS: Operation[] = [
  {
    method: 'POST',
    path: '/api/agents/register',
    id: 'register',
    summary: 'An agent says who it is and what it serves',
    token: 'agent',
    body: agentBodies.register.schema as object,
    answer: { schema: object({ id: UUID, heartbeatMs: COUNT }) },
  },
  {
    method: 'POST',
    path: '/api/agents/:id/claim',
    id: 'claim',
    summary: 'A free seat asks for work; the answer waits for some',
    token: 'agent',
    body: agentBodies.claim.schema as object,
    answer: { schema: CLAIMED },
  },
  {
    method: 'POST',
    path: '/api/agents/:id/heartbeat',
    id: 'heartbeat',
    summary: 'A sign of life: renews leases, and brings commands',
    token: 'agent',
    body: agentBodies.heartbeat.schema as object,
    answer: { schema: object({ draining: { type: 'boolean' }, commands: list(COMMAND) }) },
  },
  {
    method: 'POST',
    path: `${ATTEMPT}/events`,
    id: 'sendEvents',
    summary: 'Lines of the attempt’s log; sending a batch twice stores it once',
    token: 'agent',
    body: agentBodies.events.schema as object,
  },
  {
    method: 'POST',
    path: `${ATTEMPT}/evidence`,
    id: 'askForMissingEvidence',
    summary: 'Which of these pieces the server does not have',
    token: 'agent',
    body: agentBodies.missing.schema as object,
    answer: { schema: object({ missing: list(TEXT) }) },
  },
  {
    method: 'PUT',
    path: `${ATTEMPT}/evidence/:hash`,
    id: 'sendEvidence',
    summary: 'One piece, under the SHA-256 of its bytes',
    token: 'agent',
    query: LEASE,
    body: ['image/jpeg', 'image/png', 'video/webm', 'text/plain'],
  },
  {
    method: 'PUT',
    path: `${ATTEMPT}/screen`,
    id: 'sendScreen',
    summary: 'The screen as it is now, while somebody looks',
    token: 'agent',
    query: LEASE,
    body: ['image/jpeg', 'image/png'],
  },
  {
    method: 'POST',
    path: `${ATTEMPT}/meeting`,
    id: 'meet',
    summary: 'A role of a joint case comes to a meeting point, gives values, waits for others',
    token: 'agent',
    body: agentBodies.meeting.schema as object,
    answer: {
      schema: object(
        { missing: list(TEXT), values: { type: 'object', additionalProperties: TEXT }, over: TEXT },
        ['missing', 'values'],
      ),
    },
  },
  {
    method: 'POST',
    path: `${ATTEMPT}/finish`,
    id: 'finish',
    summary: 'How the attempt ended; with `next`, the seat asks for its next work at once (else 204)',
    token: 'agent',
    body: agentBodies.finish.schema as object,
    answer: { schema: CLAIMED },
  },
]

const PROGRESS = {
  state: { enum: ['waiting', 'running', 'cancelling', 'ended'] },
  counts: object(Object.fromEntries(OUTCOMES.map((outcome) => [outcome, COUNT]))),
}
const TEXT_OR_NONE = { type: ['string', 'null'] }

const PROGRAM_OPERATIONS: Operation[] = [
  {
    method: 'POST',
    path: '/api/rotations/:key/run',
    id: 'startRotation',
    summary: 'Starts a rotation now',
    token: 'ci',
    body: rotationStartBody.schema as object,
    answer: { status: 201, schema: object({ run: COUNT, address: TEXT }) },
  },
  {
    method: 'GET',
    path: '/api/runs/:id',
    id: 'readRun',
    summary: 'A run as its view shows it: its state, counts, and each case run',
    token: 'ci',
    answer: {
      schema: object({
        run: object({
          id: COUNT,
          title: TEXT,
          build: TEXT,
          ...PROGRESS,
        }),
        groups: list({ type: 'object' }),
      }),
    },
  },
  {
    method: 'GET',
    path: '/api/runs/:id/progress',
    id: 'readProgress',
    summary: 'How far a run is: cheap, to be asked until it has ended',
    token: 'ci',
    answer: { schema: object(PROGRESS) },
  },
  {
    method: 'GET',
    path: '/api/runs/:id/comparisons',
    id: 'readComparisons',
    summary: 'What the failing checks of a run expected, and what they found',
    token: 'ci',
    answer: {
      schema: list(object({ attemptId: UUID, expected: TEXT_OR_NONE, actual: TEXT_OR_NONE })),
    },
  },
  {
    method: 'POST',
    path: '/api/builds',
    id: 'addBuild',
    summary: 'Adds a build, which is the newest one then; one that is known stays as it is',
    token: 'ci',
    body: buildBody.schema as object,
    answer: { status: 201, schema: object({ label: TEXT }) },
  },
  {
    method: 'POST',
    path: '/api/results',
    id: 'takeInResults',
    summary: 'Takes in a result file, JUnit XML or TAP, as a run',
    token: 'ci',
    query: { name: { schema: TEXT }, build: { schema: TEXT }, environment: { schema: TEXT } },
    body: ['application/xml', 'text/plain', 'application/octet-stream'],
    answer: { status: 201, schema: object({ run: COUNT }) },
  },
]

export const OPERATIONS: readonly Operation[] = [...AGENT_OPERATIONS, ...PROGRAM_OPERATIONS]
