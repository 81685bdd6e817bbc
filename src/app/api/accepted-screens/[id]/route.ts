import { context } from '@/server/context'
import { noContent, readBody, readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { acceptAgain, changeAcceptedBody, endAcceptedScreen } from '@/server/screens'

/** Holds again, with what is not looked at and how much may differ. */
export const PUT = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  const change = await readBody(request, changeAcceptedBody)
  return Response.json(await acceptAgain(context(), readNumber(id), change, person.name))
})

export const DELETE = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  await endAcceptedScreen(context(), readNumber(id), person.name)
  return noContent()
})
