import { context } from '@/server/context'
import { putRetention, retentionBody } from '@/server/evidence'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** For how many days each kind of evidence is kept; what is absent is kept for ever. */
export const PUT = route(async (request) => {
  const person = await requireRole(request, 'admin')
  await putRetention(context(), await readBody(request, retentionBody), person.name)
  return noContent()
})
