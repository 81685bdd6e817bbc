import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { serveScreen } from '@/server/live'
import { requirePerson } from '@/server/people'

/** What is on its screen now, while it is looked at. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  return serveScreen(context(), readUuid(id))
})
