import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requirePerson, youViewModel } from '@/server/people'

export const GET = route(async (request) =>
  Response.json(await youViewModel(context(), await requirePerson(request))),
)
