import { context } from '@/server/context'
import { noContent, readNumber, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { revokeShare } from '@/server/reports/shared'

export const DELETE = route<{ id: string; share: string }>(async (request, { id, share }) => {
  const person = await requireRole(request, 'coordinator')
  await revokeShare(context(), readNumber(id), readUuid(share), person.name)
  return noContent()
})
