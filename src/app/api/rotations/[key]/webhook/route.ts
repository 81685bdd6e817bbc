import { context } from '@/server/context'
import { readBytes, route } from '@/server/http/route'
import { signedHeaders } from '@/server/http/signed'
import { requireRole } from '@/server/people'
import { makeTrigger, takeTrigger } from '@/server/triggers'

const BODY_BYTES_MOST = 100_000

/** A message signed as Standard Webhooks says starts the rotation; the same message twice starts it once. */
export const POST = route<{ key: string }>(async (request, { key }) => {
  const body = new TextDecoder().decode(await readBytes(request, BODY_BYTES_MOST))
  const run = await takeTrigger(context(), key, body, signedHeaders(request.headers), Date.now())
  return run === undefined
    ? new Response(null, { status: 202 })
    : Response.json({ run, address: `/runs/${run}` }, { status: 201 })
})

/** Makes the secret that signs such messages. It is in this answer and nowhere else. */
export const PUT = route<{ key: string }>(async (request, { key }) => {
  const person = await requireRole(request, 'coordinator')
  return Response.json({ secret: await makeTrigger(context(), key, person.name) })
})
