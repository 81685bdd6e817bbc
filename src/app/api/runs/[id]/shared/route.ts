import { context } from '@/server/context'
import { readBody, readNumber, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'
import { shareBody, shareRun, sharesOf } from '@/server/reports/shared'

export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  return Response.json(await sharesOf(context(), readNumber(id)))
})

export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'coordinator')
  const made = await shareRun(context(), readNumber(id), await readBody(request, shareBody), person.name)
  return Response.json(made, { status: 201 })
})
