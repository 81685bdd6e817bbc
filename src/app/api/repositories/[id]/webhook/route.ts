import { context } from '@/server/context'
import { takeWebhook } from '@/server/definitions'
import { signedHeaders } from '@/server/http/signed'
import { readBytes, readNumber, route } from '@/server/http/route'

const BODY_BYTES_MOST = 1_000_000

/** For git servers: a message signed as Standard Webhooks says. The reading itself is a background job. */
export const POST = route<{ id: string }>(async (request, { id }) => {
  const body = new TextDecoder().decode(await readBytes(request, BODY_BYTES_MOST))
  await takeWebhook(context(), readNumber(id), body, signedHeaders(request.headers), Date.now())
  return new Response(null, { status: 202 })
})
