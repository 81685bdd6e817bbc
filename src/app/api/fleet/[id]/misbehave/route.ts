import { context } from '@/server/context'
import { injectFault, injectFaultBody } from '@/server/dispatch'
import { noContent, readBody, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** Has a simulated agent do something wrong for some minutes, or end that. */
export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'coordinator')
  await injectFault(context(), readUuid(id), await readBody(request, injectFaultBody), person.name)
  return noContent()
})
