import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { findOnScreensOf, screensAskedBy } from '@/server/screens'

/** Screens with a text: `?text=…&run=…`, or `?text=…&case=…`. */
export const GET = route(async (request) => {
  await requirePerson(request)
  return Response.json(await findOnScreensOf(context(), screensAskedBy(new URL(request.url).searchParams)))
})
