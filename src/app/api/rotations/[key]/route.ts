import { context } from '@/server/context'
import { addressOf, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { rotationSight } from '@/server/sights'

export const GET = route<{ key: string }>(async (request, { key }) => {
  await requirePerson(request)
  return Response.json(await rotationSight(context(), key, addressOf(request.headers)))
})
