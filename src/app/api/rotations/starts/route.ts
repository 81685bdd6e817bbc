import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { nextStarts, startsBody } from '@/server/view-models'

/** The next starts of times under edit. */
export const POST = route(async (request) => {
  await requirePerson(request)
  return Response.json(await nextStarts(context(), await readBody(request, startsBody)))
})
