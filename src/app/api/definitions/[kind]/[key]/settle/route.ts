import { context } from '@/server/context'
import { readKind, resolveBody, resolveConflict } from '@/server/definitions'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const POST = route<{ kind: string; key: string }>(async (request, { kind, key }) => {
  const person = await requireRole(request, 'tester')
  await resolveConflict(
    context(),
    readKind(kind),
    key,
    (await readBody(request, resolveBody)).keep,
    person.name,
  )
  return noContent()
})
