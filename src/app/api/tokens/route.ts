import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { makeToken, requireRole } from '@/server/people'

const body = validator({
  type: 'object',
  additionalProperties: false,
  required: ['name'],
  properties: { name: { type: 'string', minLength: 1, maxLength: 60 } },
})

/** Makes a token for CI. Its text is in this answer and nowhere else. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'coordinator')
  return Response.json(
    { token: await makeToken(context(), 'ci', (await readBody(request, body)).name, person.name) },
    { status: 201 },
  )
})
