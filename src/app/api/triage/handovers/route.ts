import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { handOver, handOverBody } from '@/server/triage'

/** Who is to decide a cause from now on. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  await handOver(context(), await readBody(request, handOverBody), person.name)
  return noContent()
})
