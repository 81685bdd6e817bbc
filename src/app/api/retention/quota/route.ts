import { context } from '@/server/context'
import { putQuota, quotaBody } from '@/server/evidence'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const PUT = route(async (request) => {
  const person = await requireRole(request, 'admin')
  await putQuota(context(), await readBody(request, quotaBody), person.name)
  return noContent()
})
