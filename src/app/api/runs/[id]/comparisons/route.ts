import { context } from '@/server/context'
import { readNumber, route } from '@/server/http/route'
import { requirePerson, requireToken } from '@/server/people'
import { comparisonsViewModel } from '@/server/view-models'

/** For a person, or a program that waits for the end of the run it started. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  if (request.headers.has('authorization')) await requireToken(request, 'ci')
  else await requirePerson(request)
  return Response.json(await comparisonsViewModel(context(), readNumber(id)))
})
