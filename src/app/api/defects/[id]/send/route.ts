import { context } from '@/server/context'
import { sendBody, sendNow } from '@/server/defects'
import { noContent, readBody, readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** By the tracker, or by mail to an address. */
export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  const { mailTo } = await readBody(request, sendBody)
  await sendNow(context(), readNumber(id), person.name, mailTo)
  return noContent()
})
