import { context } from '@/server/context'
import { MARKED_BODY_BYTES, markedBody, markScreen } from '@/server/evidence'
import { readBody, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  const asked = await readBody(request, markedBody, { bytes: MARKED_BODY_BYTES })
  return Response.json(await markScreen(context(), readUuid(id), asked, person.name), { status: 201 })
})
