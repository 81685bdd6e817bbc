import { context } from '@/server/context'
import { takeWebhook } from '@/server/definitions'
import { readBytes, readNumber, route } from '@/server/http/route'

const BODY_BYTES_MOST = 1_000_000

/** For git servers: a message signed as Standard Webhooks says. The reading itself is a background job. */
export const POST = route<{ id: string }>(async (request, { id }) => {
  const body = new TextDecoder().decode(await readBytes(request, BODY_BYTES_MOST))
  const header = (name: string) => request.headers.get(`webhook-${name}`)
  await takeWebhook(context(), readNumber(id), body, { id: header('id'), timestamp: header('timestamp'), signature: header('signature') }, Date.now())
  return new Response(null, { status: 202 })
})
