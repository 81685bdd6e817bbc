import { context } from '@/server/context'
import { listVersions, readKind } from '@/server/definitions'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'

export const GET = route<{ kind: string; key: string }>(async (request, { kind, key }) => {
  await requirePerson(request)
  return Response.json(await listVersions(context(), readKind(kind), key))
})
