import { context } from '@/server/context'
import { foundAtTracker } from '@/server/defects'
import { route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** Issues of the tracker that have words (`q`). */
export const GET = route(async (request) => {
  await requireRole(request, 'tester')
  const words = new URL(request.url).searchParams.get('q') ?? ''
  return Response.json(await foundAtTracker(context(), words))
})
