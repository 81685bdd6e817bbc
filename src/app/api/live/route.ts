import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { liveHub, liveStream } from '@/server/live'
import { isSessionOpen, requirePerson } from '@/server/people'

export const GET = route(async (request) => {
  const { sessionId } = await requirePerson(request)
  const { db, connection } = context()
  return liveStream(liveHub(connection.url), request.signal, () => isSessionOpen(db, sessionId))
})
