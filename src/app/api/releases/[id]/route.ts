import { context } from '@/server/context'
import { readNumber, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { serveRelease } from '@/server/requirements'

/** The signed sheet, as a document. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  return serveRelease(context(), readNumber(id))
})
