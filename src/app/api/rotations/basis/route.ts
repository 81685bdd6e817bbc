import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { basisBody, rotationBasis } from '@/server/view-models'

/** All that the forecast of a rotation under edit is computed from. */
export const POST = route(async (request) => {
  await requirePerson(request)
  return Response.json(await rotationBasis(context(), await readBody(request, basisBody)))
})
