import { context } from '@/server/context'
import { readBody, route, validator } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { ruleViewModel } from '@/server/view-models'

const body = validator<{ rule: string }>({
  type: 'object',
  additionalProperties: false,
  required: ['rule'],
  properties: { rule: { type: 'string', maxLength: 300 } },
})

/** The cases a tag expression chooses now. */
export const POST = route(async (request) => {
  await requirePerson(request)
  return Response.json(await ruleViewModel(context(), (await readBody(request, body)).rule))
})
