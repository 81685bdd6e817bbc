import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { requirePerson } from '@/server/people'
import { ruleViewModel } from '@/server/view-models'

const body = validator({
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
