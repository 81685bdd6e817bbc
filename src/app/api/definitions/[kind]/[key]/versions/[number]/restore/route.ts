import { context } from '@/server/context'
import { readKind, restoreVersion } from '@/server/definitions'
import { readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const POST = route<{ kind: string; key: string; number: string }>(
  async (request, { kind, key, number }) => {
    const person = await requireRole(request, 'tester')
    return Response.json(
      await restoreVersion(context(), readKind(kind), key, readNumber(number), person.name),
    )
  },
)
