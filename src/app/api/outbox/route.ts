import { context } from '@/server/context'
import { outboxViewModel, tryAllNow } from '@/server/defects'
import { route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'

/** What waits to be sent to the tracker or by mail. */
export const GET = route(async (request) => {
  await requirePerson(request)
  return Response.json(await outboxViewModel(context()))
})

/** All of it is tried now. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  return Response.json({ defects: await tryAllNow(context(), person.name) })
})
