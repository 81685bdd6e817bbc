import { context } from '@/server/context'
import { endShortening, shorteningsViewModel, startShortening } from '@/server/defects'
import { noContent, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

type Params = { id: string }

export const GET = route<Params>(async (request, { id }) => {
  await requireRole(request, 'viewer')
  return Response.json(await shorteningsViewModel(context(), readUuid(id)))
})

/** Fewer and fewer steps are tried, until none of those left can go. */
export const POST = route<Params>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  await startShortening(context(), readUuid(id), person.name)
  return noContent()
})

export const DELETE = route<Params>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  await endShortening(context(), readUuid(id), person.name)
  return noContent()
})
