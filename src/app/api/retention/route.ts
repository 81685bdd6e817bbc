import { context } from '@/server/context'
import { putRetention, retentionBody, retentionOutlook } from '@/server/evidence'
import { noContent, readBody, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'

/** What is kept, and what of it goes when. */
export const GET = route(async (request) => {
  await requirePerson(request)
  return Response.json(await retentionOutlook(context()))
})

/** For how many days each kind of evidence is kept; what is absent is kept for ever. */
export const PUT = route(async (request) => {
  const person = await requireRole(request, 'admin')
  await putRetention(context(), await readBody(request, retentionBody), person.name)
  return noContent()
})
