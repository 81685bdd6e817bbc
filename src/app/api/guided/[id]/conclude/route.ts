import { context } from '@/server/context'
import { concludeBody, concludeGuided } from '@/server/guided'
import { readBody, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  const { version } = await readBody(request, concludeBody)
  const attemptId = await concludeGuided(context(), readUuid(id), version, person.name)
  return Response.json({ attemptId }, { status: 201 })
})
