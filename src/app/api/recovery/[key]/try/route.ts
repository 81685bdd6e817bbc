import { context } from '@/server/context'
import { policyOfSource } from '@/server/definitions'
import { readBody, readUuid, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { requirePerson } from '@/server/people'
import { tryRules } from '@/server/recovery'

const body = validator({
  type: 'object',
  additionalProperties: false,
  required: ['source', 'attempt'],
  properties: {
    source: { type: 'string', maxLength: 2_000_000 },
    attempt: { type: 'string', maxLength: 60 },
  },
})

/** What the rules of a text under edit would do about the failure of an attempt. */
export const POST = route<{ key: string }>(async (request, { key }) => {
  await requirePerson(request)
  const { source, attempt } = await readBody(request, body)
  return Response.json(
    await tryRules(context(), (await policyOfSource(context(), key, source)).rules, readUuid(attempt)),
  )
})
