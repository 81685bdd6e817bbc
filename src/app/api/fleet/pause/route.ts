import { context } from '@/server/context'
import { pauseAgents } from '@/server/dispatch'
import { noContent, readBody, readUuid, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { requireRole } from '@/server/people'

const body = validator({
  type: 'object',
  additionalProperties: false,
  required: ['paused'],
  properties: {
    paused: { type: 'boolean' },
    id: { type: 'string', maxLength: 60 },
    pool: { type: 'string', minLength: 1, maxLength: 60 },
  },
  minProperties: 2,
  maxProperties: 2,
})

/** An agent, or every agent of a pool. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'coordinator')
  const { paused, id, pool } = await readBody(request, body)
  await pauseAgents(context(), id === undefined ? { pool: pool! } : { id: readUuid(id) }, paused, person.name)
  return noContent()
})
