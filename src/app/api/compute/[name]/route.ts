import { computeBody, COMPUTE_LIMITS } from '@/server/compute'
import { context } from '@/server/context'
import { readJson, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'

/** The same as `./oak compute NAME`, over HTTP. It changes nothing, so any signed-in person may. */
export const POST = route<{ name: string }>(async (request, { name }) => {
  const { role } = await requirePerson(request)
  return Response.json(await computeBody(context(), name, await readJson(request, COMPUTE_LIMITS), role))
})
