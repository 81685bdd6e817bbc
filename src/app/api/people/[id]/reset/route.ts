import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { requireRole, resetPerson } from '@/server/people'

const body = validator({
  type: 'object',
  additionalProperties: false,
  required: ['secondFactor'],
  properties: { secondFactor: { type: 'boolean' } },
})

/** A link to set a password anew, in this answer and nowhere else. */
export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'admin')
  return Response.json(await resetPerson(context(), id, await readBody(request, body), person))
})
