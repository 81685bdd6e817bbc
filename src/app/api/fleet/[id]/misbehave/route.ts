import { context } from '@/server/context'
import { misbehave, misbehaveBody } from '@/server/dispatch'
import { noContent, readBody, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** Has a simulated agent do something wrong for some minutes, or end that. */
export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'coordinator')
  await misbehave(context(), readUuid(id), await readBody(request, misbehaveBody), person.name)
  return noContent()
})
