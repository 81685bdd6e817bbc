import { context } from '@/server/context'
import { noContent, readBody, readNumber, route, validator } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { pauseRun } from '@/server/runs'

const body = validator<{ paused: boolean }>({
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
