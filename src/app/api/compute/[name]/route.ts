import { computeBody } from '@/server/compute'
import { readJson, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'

/** The same as `./oak compute NAME`, over HTTP. It changes nothing, so any signed-in person may. */
export const POST = route<{ name: string }>(async (request, { name }) => {
  await requirePerson(request)
  return Response.json(await computeBody(name, await readJson(request)))
})
