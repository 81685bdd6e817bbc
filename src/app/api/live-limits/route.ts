import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { liveLimitsBody, putLiveLimits } from '@/server/runs'

/** How many live sessions may go on at once, in all and by pool; a pool that is not named has no limit of its
 * own. */
export const PUT = route(async (request) => {
  const person = await requireRole(request, 'admin')
  await putLiveLimits(context(), await readBody(request, liveLimitsBody), person.name)
  return noContent()
})
