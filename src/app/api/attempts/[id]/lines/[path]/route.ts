import { context } from '@/server/context'
import { Problem } from '@/server/http/problems'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { askLog, narrowingIn } from '@/server/reading'

/** One line, whole, with its place among those that are looked at. */
export const GET = route<{ id: string; path: string }>(async (request, { id, path }) => {
  await requirePerson(request)
  const narrowing = narrowingIn(new URL(request.url).searchParams)
  const answer = await askLog(context(), readUuid(id), { ask: 'line', path, ...narrowing })
  if (!answer) throw new Problem('NOT_FOUND', 'There is no such line in this log.')
  return Response.json(answer)
})
