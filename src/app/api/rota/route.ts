import { context } from '@/server/context'
import { Problem } from '@/server/http/problems'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { rotaViewModel } from '@/server/view-models'

const DAY_MS = 86_400_000
const SPAN_MOST_MS = 35 * DAY_MS

export const GET = route(async (request) => {
  await requirePerson(request)
  const { searchParams } = new URL(request.url)
  const [from, to] = [new Date(searchParams.get('from') ?? ''), new Date(searchParams.get('to') ?? '')]
  if (!(to.getTime() > from.getTime()) || to.getTime() - from.getTime() > SPAN_MOST_MS)
    throw new Problem(
      'BODY_INVALID',
      'The rota is asked for with from and to, two instants at most five weeks apart.',
    )
  return Response.json(await rotaViewModel(context(), from, to))
})
