import { context } from '@/server/context'
import { settleMessage } from '@/server/defects'
import { noContent, readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

type Params = { id: string; message: string }

/** It is said all the same, whatever the tracker has by now. */
export const POST = route<Params>(async (request, { id, message }) => {
  const person = await requireRole(request, 'tester')
  const of = { defectId: readNumber(id), messageId: readNumber(message) }
  await settleMessage(context(), { ...of, how: 'insist' }, person.name)
  return noContent()
})

/** It is not said. */
export const DELETE = route<Params>(async (request, { id, message }) => {
  const person = await requireRole(request, 'tester')
  const of = { defectId: readNumber(id), messageId: readNumber(message) }
  await settleMessage(context(), { ...of, how: 'withdraw' }, person.name)
  return noContent()
})
