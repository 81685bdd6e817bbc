import { context } from '@/server/context'
import { Problem } from '@/server/http/problems'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { dayStrip } from '@/server/view-models'

/** Wider windows would draw bars thinner than a pixel. */
const WINDOW_MOST_MS = 15 * 86_400_000

export const GET = route(async (request) => {
  await requirePerson(request)
  const query = new URL(request.url).searchParams
  const [from, to] = [new Date(query.get('from') ?? ''), new Date(query.get('to') ?? '')]
  const span = to.getTime() - from.getTime()
  if (!(span > 0 && span <= WINDOW_MOST_MS))
    throw new Problem('BODY_INVALID', 'Say from and to, at most 15 days apart.')
  return Response.json(await dayStrip(context(), from, to))
})
