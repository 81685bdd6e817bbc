import { context } from '@/server/context'
import { takeWebhook } from '@/server/definitions'
import { signedHeaders } from '@/server/http/signed'
import { readBytes, readNumber, route } from '@/server/http/route'

const BODY_BYTES_MOST = 1_000_000

/** For git servers: a message signed as Standard Webhooks says, or any with the token in its address. The
 * reading itself is a background job. */
export const POST = route<{ id: string }>(async (request, { id }) => {
  const body = new TextDecoder().decode(await readBytes(request, BODY_BYTES_MOST))
  const token = new URL(request.url).searchParams.get('token')
  await takeWebhook(
    context(),
    readNumber(id),
    { body, headers: signedHeaders(request.headers), token },
    Date.now(),
  )
  return new Response(null, { status: 202 })
})
