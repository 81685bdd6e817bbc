import { context } from '@/server/context'
import { serveEvidence } from '@/server/evidence'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'

export const GET = route<{ hash: string }>(async (request, { hash }) => {
  await requirePerson(request)
  return serveEvidence(context(), hash, {
    range: request.headers.get('range'),
    known: request.headers.get('if-none-match'),
  })
})
