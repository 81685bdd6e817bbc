import { context } from '@/server/context'
import { addressOf, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { fleetViewModel } from '@/server/view-models'

export const GET = route(async (request) => {
  await requirePerson(request)
  return Response.json(await fleetViewModel(context(), addressOf(request.headers)))
})
