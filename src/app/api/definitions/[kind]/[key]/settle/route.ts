import { context } from '@/server/context'
import { readKind, settleBody, settleConflict } from '@/server/definitions'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const POST = route<{ kind: string; key: string }>(async (request, { kind, key }) => {
  const person = await requireRole(request, 'tester')
  await settleConflict(
    context(),
    readKind(kind),
    key,
    (await readBody(request, settleBody)).keep,
    person.name,
  )
  return noContent()
})
