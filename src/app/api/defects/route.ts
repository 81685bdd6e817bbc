import { context } from '@/server/context'
import { allDefects, logBody, logDefect, setSeverities, severitiesBody } from '@/server/defects'
import { readBody, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'
import { defectViewModel } from '@/server/view-models'

export const GET = route(async (request) => {
  await requirePerson(request)
  return Response.json((await allDefects(context())).map(defectViewModel))
})

export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  return Response.json(
    defectViewModel(await logDefect(context(), await readBody(request, logBody), person.name)),
    { status: 201 },
  )
})

/** The severity of many. */
export const PATCH = route(async (request) => {
  const person = await requireRole(request, 'tester')
  const { edits } = await readBody(request, severitiesBody)
  return Response.json(await setSeverities(context(), edits, person.name))
})
