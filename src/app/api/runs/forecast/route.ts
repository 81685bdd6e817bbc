import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { forecastBody, forecastStart } from '@/server/runs'

/** What a start would come to; nothing is started. */
export const POST = route(async (request) => {
  await requirePerson(request)
  return Response.json(await forecastStart(context(), await readBody(request, forecastBody)))
})
