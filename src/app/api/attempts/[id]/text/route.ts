import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { askLog, narrowingIn } from '@/server/reading'

/** The outline as plain text. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  const narrowing = narrowingIn(new URL(request.url).searchParams)
  const text = await askLog(context(), readUuid(id), { ask: 'text', ...narrowing })
  return new Response(text, { headers: { 'content-type': 'text/plain; charset=utf-8' } })
})
