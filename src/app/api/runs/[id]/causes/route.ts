import { context } from '@/server/context'
import { readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { runCausesViewModel } from '@/server/triage'

export const GET = route<{ id: string }>(async (request, { id }) => {
  await requireRole(request, 'viewer')
  return Response.json(await runCausesViewModel(context(), readNumber(id)))
})
