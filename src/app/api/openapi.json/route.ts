import { OWN_VERSION } from '@/core/execution'
import { route } from '@/server/http/route'
import { openApiDocument } from '@/server/openapi'
import { requirePerson, requireToken } from '@/server/people'

/** What programs may ask, as OpenAPI. */
export const GET = route(async (request) => {
  if (request.headers.has('authorization')) await requireToken(request, 'ci')
  else await requirePerson(request)
  return Response.json(openApiDocument(OWN_VERSION))
})
