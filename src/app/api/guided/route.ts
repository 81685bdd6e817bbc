import { context } from '@/server/context'
import { guidedListViewModel } from '@/server/guided'
import { route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const GET = route(async (request) => {
  await requireRole(request, 'viewer')
  return Response.json(await guidedListViewModel(context()))
})
