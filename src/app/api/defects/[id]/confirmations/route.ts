import { context } from '@/server/context'
import { confirmationsViewModel, confirmBody, startConfirmation } from '@/server/defects'
import { readBody, readNumber, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'

type Params = { id: string }

export const GET = route<Params>(async (request, { id }) => {
  await requirePerson(request)
  return Response.json(await confirmationsViewModel(context(), readNumber(id)))
})

/** Starts a run that tells whether the defect is mended. */
export const POST = route<Params>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  const body = await readBody(request, confirmBody)
  const run = await startConfirmation(context(), readNumber(id), body, person.name)
  return Response.json({ run }, { status: 201 })
})
