import { context } from '@/server/context'
import { takeTrackerMessage } from '@/server/defects'
import { signedHeaders } from '@/server/http/signed'
import { readBytes, route } from '@/server/http/route'

const BODY_BYTES_MOST = 100_000

/** For the tracker: where a defect stands, in a message signed as Standard Webhooks says. */
export const POST = route(async (request) => {
  const body = new TextDecoder().decode(await readBytes(request, BODY_BYTES_MOST))
  await takeTrackerMessage(context(), { body, headers: signedHeaders(request.headers) }, Date.now())
  return new Response(null, { status: 202 })
})
