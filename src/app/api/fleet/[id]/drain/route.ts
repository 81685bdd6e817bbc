import { context } from '@/server/context'
import { drainAgent } from '@/server/dispatch'
import { noContent, readBody, readUuid, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { requireRole } from '@/server/people'

const body = validator({
  type: 'object',
  additionalProperties: false,
  required: ['draining'],
  properties: { draining: { type: 'boolean' } },
})

export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'coordinator')
  const { draining } = await readBody(request, body)
  await drainAgent(context(), readUuid(id), draining, person.name)
  return noContent()
})
