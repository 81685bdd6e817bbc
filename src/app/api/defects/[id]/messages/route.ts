import { context } from '@/server/context'
import { messageBody, messagesViewModel, sayOfDefect } from '@/server/defects'
import { noContent, readBody, readNumber, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'

type Params = { id: string }

export const GET = route<Params>(async (request, { id }) => {
  await requirePerson(request)
  return Response.json(await messagesViewModel(context(), readNumber(id)))
})

/** Says something of the defect at the tracker, and what it is to become there. */
export const POST = route<Params>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  await sayOfDefect(context(), readNumber(id), await readBody(request, messageBody), person.name)
  return noContent()
})
