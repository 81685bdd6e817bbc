import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { mailBody, removeMail, setMail } from '@/server/mail'
import { requireRole } from '@/server/people'

export const PUT = route(async (request) => {
  const person = await requireRole(request, 'admin')
  await setMail(context(), await readBody(request, mailBody), person.name)
  return noContent()
})

export const DELETE = route(async (request) => {
  const person = await requireRole(request, 'admin')
  await removeMail(context(), person.name)
  return noContent()
})
