import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { lookAt, lookersViewModel, lookingBody } from '@/server/triage'

/** Who looks at which cause. */
export const GET = route(async (request) => {
  await requirePerson(request)
  return Response.json(await lookersViewModel(context()))
})

/** The person who asks looks at a cause, or at none any more. */
export const POST = route(async (request) => {
  const person = await requirePerson(request)
  await lookAt(context(), await readBody(request, lookingBody), person.name)
  return noContent()
})
