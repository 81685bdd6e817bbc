import { context } from '@/server/context'
import { readNumber, route } from '@/server/http/route'
import { requirePerson, requireToken } from '@/server/people'
import { runViewModel } from '@/server/view-models'

export const GET = route<{ id: string }>(async (request, { id }) => {
  // A program that started the run waits for its end with the same token.
  if (request.headers.has('authorization')) await requireToken(request, 'ci')
  else await requirePerson(request)
  return Response.json(await runViewModel(context(), readNumber(id)))
})
