import { context } from '@/server/context'
import { readNumber, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { runSight } from '@/server/sights'

export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  return Response.json(await runSight(context(), readNumber(id)))
})
