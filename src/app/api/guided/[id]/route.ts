import { context } from '@/server/context'
import { guidedSheetViewModel, saveBody, saveGuided } from '@/server/guided'
import { readBody, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

type Params = { id: string }

export const GET = route<Params>(async (request, { id }) => {
  const person = await requireRole(request, 'viewer')
  return Response.json(await guidedSheetViewModel(context(), readUuid(id), person.name))
})

export const PUT = route<Params>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  const asked = await readBody(request, saveBody)
  return Response.json({ version: await saveGuided(context(), readUuid(id), asked, person.name) })
})
