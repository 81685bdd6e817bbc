import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { liveHub, liveStream } from '@/server/live'
import { requirePerson } from '@/server/people'

export const GET = route(async (request) => {
  await requirePerson(request)
  return liveStream(liveHub(context().connection.url), request.signal)
})
