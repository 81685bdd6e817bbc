import { context } from '@/server/context'
import { readKind, removeDefinition, saveBody, saveDefinition } from '@/server/definitions'
import { noContent, readBody, readNumber, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'
import { benchViewModel } from '@/server/view-models'

type Params = { kind: string; key: string }

export const GET = route<Params>(async (request, { kind, key }) => {
  await requirePerson(request)
  return Response.json(await benchViewModel(context(), readKind(kind), key))
})

export const PUT = route<Params>(async (request, { kind, key }) => {
  const person = await requireRole(request, 'tester')
  return Response.json(
    await saveDefinition(context(), readKind(kind), key, await readBody(request, saveBody), person.name),
  )
})

export const DELETE = route<Params>(async (request, { kind, key }) => {
  const person = await requireRole(request, 'tester')
  await removeDefinition(
    context(),
    readKind(kind),
    key,
    readNumber(new URL(request.url).searchParams.get('basedOn') ?? ''),
    person.name,
  )
  return noContent()
})
