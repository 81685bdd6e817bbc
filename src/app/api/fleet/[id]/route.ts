import { context } from '@/server/context'
import { editAgent, forgetAgent } from '@/server/dispatch'
import { noContent, readBody, readUuid, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { requireRole } from '@/server/people'

const body = validator({
  type: 'object',
  additionalProperties: false,
  minProperties: 1,
  properties: {
    pool: { type: 'string', minLength: 1, maxLength: 60, pattern: '\\S' },
    labels: {
      type: 'array',
      maxItems: 20,
      uniqueItems: true,
      items: { type: 'string', minLength: 1, maxLength: 40 },
    },
  },
})

export const PATCH = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'coordinator')
  await editAgent(context(), readUuid(id), await readBody(request, body), person.name)
  return noContent()
})

export const DELETE = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'coordinator')
  await forgetAgent(context(), readUuid(id), person.name)
  return noContent()
})
