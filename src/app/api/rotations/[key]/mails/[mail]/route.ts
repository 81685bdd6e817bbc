import { context } from '@/server/context'
import { noContent, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { removeRotationMail, tryRotationMail } from '@/server/reports/mails'

/** Sends it now. */
export const POST = route<{ key: string; mail: string }>(async (request, { key, mail }) => {
  await requireRole(request, 'coordinator')
  await tryRotationMail(context(), decodeURIComponent(key), readUuid(mail))
  return noContent()
})

export const DELETE = route<{ key: string; mail: string }>(async (request, { key, mail }) => {
  const person = await requireRole(request, 'coordinator')
  await removeRotationMail(context(), decodeURIComponent(key), readUuid(mail), person.name)
  return noContent()
})
