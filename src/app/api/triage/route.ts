import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { readDays, triageViewModel } from '@/server/triage'

export const GET = route(async (request) => {
  await requireRole(request, 'viewer')
  const days = readDays(new URL(request.url).searchParams.get('days'))
  return Response.json(await triageViewModel(context(), days))
})
