import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'
import { addRotationMail, reportMailBody, reportMailLines } from '@/server/reports/mails'

export const GET = route<{ key: string }>(async (request, { key }) => {
  await requirePerson(request)
  return Response.json(await reportMailLines(context(), decodeURIComponent(key)))
})

export const POST = route<{ key: string }>(async (request, { key }) => {
  const person = await requireRole(request, 'coordinator')
  const asked = await readBody(request, reportMailBody)
  const made = await addRotationMail(context(), decodeURIComponent(key), asked, person.name)
  return Response.json(made, { status: 201 })
})
