import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { askLog, findIn, narrowingIn, windowIn } from '@/server/reading'

/** A window of the outline: `?from=0&count=200`, and which lines (`fold`, `only`; `find` marks those with a
 * text). */
export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  const asked = new URL(request.url).searchParams
  const ask = { ask: 'window', find: findIn(asked), ...narrowingIn(asked), ...windowIn(asked) } as const
  return Response.json(await askLog(context(), readUuid(id), ask))
})
