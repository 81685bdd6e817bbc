import { context } from '@/server/context'
import { sendNow } from '@/server/defects'
import { noContent, readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  await sendNow(context(), readNumber(id), person.name)
  return noContent()
})
