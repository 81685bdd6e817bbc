import { context } from '@/server/context'
import { readBytes, route } from '@/server/http/route'
import { signedHeaders } from '@/server/http/signed'
import { requireRole } from '@/server/people'
import { makeBuildsTrigger, takeBuild } from '@/server/triggers'

const BODY_BYTES_MOST = 10_000

/** A message signed as Standard Webhooks says names a build: {"label": "…"}. */
export const POST = route(async (request) => {
  const body = new TextDecoder().decode(await readBytes(request, BODY_BYTES_MOST))
  await takeBuild(context(), body, signedHeaders(request.headers), Date.now())
  return new Response(null, { status: 202 })
})

/** Makes the secret that signs such messages. It is in this answer and nowhere else. */
export const PUT = route(async (request) => {
  const person = await requireRole(request, 'coordinator')
  return Response.json({ secret: await makeBuildsTrigger(context(), person.name) })
})
