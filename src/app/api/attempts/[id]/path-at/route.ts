import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { askLog, numberIn } from '@/server/reading'

/** The line that was at work at a time: `?ms=4200`. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  const ms = numberIn(new URL(request.url).searchParams, 'ms', 0)
  return Response.json({ path: (await askLog(context(), readUuid(id), { ask: 'path-at', ms })) ?? null })
})
