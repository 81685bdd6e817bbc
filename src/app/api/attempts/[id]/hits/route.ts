import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { askLog, findIn, narrowingIn } from '@/server/reading'

/** How many lines have a text, and which are around the selected one: `?find=…&selected=main.3`. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  const asked = new URL(request.url).searchParams
  const selected = asked.get('selected')
  const ask = {
    ask: 'hits',
    find: findIn(asked),
    ...narrowingIn(asked),
    ...(selected !== null && { selected }),
  } as const
  return Response.json(await askLog(context(), readUuid(id), ask))
})
