import { context } from '@/server/context'
import { policyOfSource } from '@/server/definitions'
import { readBody, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { requirePerson } from '@/server/people'
import { ruleHistory } from '@/server/recovery'

const body = validator({
  type: 'object',
  additionalProperties: false,
  required: ['source'],
  properties: { source: { type: 'string', maxLength: 2_000_000 } },
})

/** The rules of a text under edit against the failures of the last 30 days. */
export const POST = route<{ key: string }>(async (request, { key }) => {
  await requirePerson(request)
  return Response.json(
    await ruleHistory(
      context(),
      await policyOfSource(context(), key, (await readBody(request, body)).source),
    ),
  )
})
