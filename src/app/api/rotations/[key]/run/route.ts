import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requireRole, requireToken } from '@/server/people'
import { rotationStartBody, startRotation } from '@/server/rota'

/** Starts a rotation now: by a signed-in person, or by another program with a CI token. */
export const POST = route<{ key: string }>(async (request, { key }) => {
  const who = request.headers.has('authorization')
    ? (await requireToken(request, 'ci')).name
    : (await requireRole(request, 'tester')).name
  const run = await startRotation(context(), key, await readBody(request, rotationStartBody), who)
  return Response.json({ run, address: `/runs/${run}` }, { status: 201 })
})
