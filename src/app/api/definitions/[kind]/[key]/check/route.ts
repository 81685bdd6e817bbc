import { context } from '@/server/context'
import { readKind } from '@/server/definitions'
import { readBody, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { requirePerson } from '@/server/people'
import { draftViewModel } from '@/server/view-models'

const body = validator({
  type: 'object',
  additionalProperties: false,
  required: ['source'],
  properties: { source: { type: 'string' } },
})

/** What a text says, and what is wrong with it; nothing is kept. */
export const POST = route<{ kind: string; key: string }>(async (request, { kind, key }) => {
  await requirePerson(request)
  return Response.json(
    await draftViewModel(context(), readKind(kind), key, (await readBody(request, body)).source),
  )
})
