import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { coverageByBuild } from '@/server/requirements'

/** Requirements by build: the one that is asked for and those before it. */
export const GET = route(async (request) => {
  await requirePerson(request)
  return Response.json(await coverageByBuild(context(), new URL(request.url).searchParams.get('build')))
})
