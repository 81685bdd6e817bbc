import { context } from '@/server/context'
import { noContent, readBody, requireSameOrigin, route } from '@/server/http/route'
import { watchBody, watchScreens } from '@/server/live'
import { requirePerson } from '@/server/people'

/** Somebody looks at these attempts: their agents show what is on their screens for some seconds. */
export const POST = route(async (request) => {
  await requirePerson(request)
  requireSameOrigin(request)
  await watchScreens(context(), (await readBody(request, watchBody)).attempts)
  return noContent()
})
