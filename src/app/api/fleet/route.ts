import { context } from '@/server/context'
import { addressOf, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { fleetSight } from '@/server/sights'

export const GET = route(async (request) => {
  await requirePerson(request)
  return Response.json(await fleetSight(context(), addressOf(request.headers)))
})
