import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { requirePerson, requireRole } from '@/server/people'
import { setWorkspacePolicy } from '@/server/recovery'
import { recoveryViewModel } from '@/server/view-models'

const body = validator({
  type: 'object',
  additionalProperties: false,
  required: ['policy'],
  properties: { policy: { type: ['string', 'null'], maxLength: 80 } },
})

export const GET = route(async (request) => {
  await requirePerson(request)
  return Response.json(await recoveryViewModel(context()))
})

/** Which policy counts for everything. */
export const PUT = route(async (request) => {
  const person = await requireRole(request, 'coordinator')
  await setWorkspacePolicy(context(), (await readBody(request, body)).policy, person.name)
  return noContent()
})
