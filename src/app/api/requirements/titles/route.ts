import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { requirementTitles } from '@/server/requirements'

/** What each requirement asks. */
export const GET = route(async (request) => {
  await requirePerson(request)
  return Response.json(await requirementTitles(context()))
})
