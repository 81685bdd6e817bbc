import { context } from '@/server/context'
import { changeRepository, removeRepository, repositoryChangeBody } from '@/server/definitions'
import { noContent, readBody, readNumber, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'
import { repositoryDetailViewModel } from '@/server/view-models'

export const GET = route<{ id: string }>(async (request, { id }) => {
  const person = await requirePerson(request)
  return Response.json(await repositoryDetailViewModel(context(), readNumber(id), person.role === 'admin'))
})

export const PATCH = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'admin')
  const wanted = await readBody(request, repositoryChangeBody)
  const read = await changeRepository(context(), readNumber(id), wanted, person.name)
  return read ? Response.json(read) : noContent()
})

export const DELETE = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'admin')
  await removeRepository(
    context(),
    readNumber(id),
    new URL(request.url).searchParams.get('edits') === 'too',
    person.name,
  )
  return noContent()
})
