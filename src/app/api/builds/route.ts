import { addBuild, buildBody } from '@/server/builds'
import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requireRole, requireToken } from '@/server/people'

/** A new build: by a signed-in person, or by a build system with a CI token. One that is known stays. */
export const POST = route(async (request) => {
  const who = request.headers.has('authorization')
    ? (await requireToken(request, 'ci')).name
    : (await requireRole(request, 'coordinator')).name
  const { label } = await readBody(request, buildBody)
  return Response.json({ label }, { status: (await addBuild(context(), label, who)) ? 201 : 200 })
})
