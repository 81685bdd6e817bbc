import { context } from '@/server/context'
import { noContent, readBody, readNumber, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { requireRole } from '@/server/people'
import { pauseRun } from '@/server/runs'

const body = validator({
  type: 'object',
  additionalProperties: false,
  required: ['paused'],
  properties: { paused: { type: 'boolean' } },
})

export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  await pauseRun(context(), readNumber(id), (await readBody(request, body)).paused, person.name)
  return noContent()
})
