import { auditFilter, auditWindow } from '@/server/audit'
import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requireReader } from '@/server/people'

export const GET = route(async (request) => {
  await requireReader(request, 'admin')
  return Response.json(await auditWindow(context(), auditFilter(new URL(request.url).searchParams)))
})
