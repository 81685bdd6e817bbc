import { adopt, adoptBody, adoptionBody, proposeAdoption } from '@/server/adopting'
import { context } from '@/server/context'
import { readBody, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** What would change; nothing is saved. */
export const POST = route<{ id: string }>(async (request, { id }) => {
  await requireRole(request, 'tester')
  const asked = await readBody(request, adoptionBody)
  return Response.json(await proposeAdoption(context(), { attemptId: readUuid(id), ...asked }))
})

export const PUT = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  const { files, ...asked } = await readBody(request, adoptBody)
  return Response.json(await adopt(context(), { attemptId: readUuid(id), ...asked }, files, person.name))
})
