import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { mendsOfAttempt } from '@/server/reading'

/** What its log says is to be mended in its case. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  return Response.json(await mendsOfAttempt(context(), readUuid(id)))
})
