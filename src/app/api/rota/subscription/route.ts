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

/** An address under which a calendar program reads the rota. It is shown this once; it is revoked under
 * Settings, like any token. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  const token = await makeToken(context(), 'calendar', (await readBody(request, body)).name, person.name)
  return Response.json({ path: `/api/rota/calendar.ics?token=${token}` }, { status: 201 })
})
