import { context } from '@/server/context'
import { readBody, route, validator } from '@/server/http/route'
import { makeToken, requireRole } from '@/server/people'

const body = validator<{ name: string }>({
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
