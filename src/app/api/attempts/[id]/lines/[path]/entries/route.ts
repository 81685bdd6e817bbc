import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { askLog, windowIn } from '@/server/reading'

/** Console lines and requests of a step, beyond the first that come with it. */
export const GET = route<{ id: string; path: string }>(async (request, { id, path }) => {
  await requirePerson(request)
  const ask = { ask: 'entries', path, ...windowIn(new URL(request.url).searchParams) } as const
  return Response.json(await askLog(context(), readUuid(id), ask))
})
