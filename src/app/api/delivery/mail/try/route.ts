import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { tryBody, tryMail } from '@/server/mail'
import { requireRole } from '@/server/people'

/** Sends a message to look at. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'admin')
  await tryMail(context(), (await readBody(request, tryBody)).to, person.name)
  return noContent()
})
