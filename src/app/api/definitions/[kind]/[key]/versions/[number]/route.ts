import { context } from '@/server/context'
import { readKind, showVersion } from '@/server/definitions'
import { readNumber, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'

export const GET = route<{ kind: string; key: string; number: string }>(
  async (request, { kind, key, number }) => {
    await requirePerson(request)
    return Response.json(await showVersion(context(), readKind(kind), key, readNumber(number)))
  },
)
