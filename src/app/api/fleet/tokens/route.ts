import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { makeToken, requireRole } from '@/server/people'

const body = validator({
  type: 'object',
  additionalProperties: false,
  required: ['name', 'pool', 'environments'],
  properties: {
    name: { type: 'string', maxLength: 60, pattern: '^[a-z0-9][a-z0-9-]*$' },
    pool: { type: 'string', minLength: 1, maxLength: 60, pattern: '\\S' },
    environments: {
      type: 'array',
      minItems: 1,
      maxItems: 100,
      uniqueItems: true,
      items: { type: 'string', minLength: 1, maxLength: 80 },
    },
  },
})

/** Makes a token for the agent of this name, in this pool, and these environments alone. Its text is in this
 * answer and nowhere else. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'coordinator')
  const { name, pool, environments } = await readBody(request, body)
  return Response.json(
    {
      token: await makeToken(context(), 'agent', name, person.name, {
        agent: name,
        pool: pool.trim(),
        environments,
      }),
    },
    { status: 201 },
  )
})
