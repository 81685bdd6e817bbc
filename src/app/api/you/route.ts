import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requirePerson, youSight } from '@/server/people'

export const GET = route(async (request) =>
  Response.json(await youSight(context(), await requirePerson(request))),
)
