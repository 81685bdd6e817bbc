import { context } from '@/server/context'
import { addressOf, route } from '@/server/http/route'
import { personOf, requireTokenText } from '@/server/people'
import { rotaCalendar } from '@/server/rota'
import { rotaViewModel } from '@/server/view-models'

const DAY_MS = 86_400_000
const [BACK_DAYS, AHEAD_DAYS] = [7, 28]

/** The rota as iCalendar: for a signed-in person, or for a calendar program that has the subscription address
 * with its token. */
export const GET = route(async (request) => {
  const { searchParams } = new URL(request.url)
  if (!(await personOf(request.headers))) await requireTokenText(searchParams.get('token') ?? '', 'calendar')
  const now = Date.now()
  const viewModel = await rotaViewModel(
    context(),
    new Date(now - BACK_DAYS * DAY_MS),
    new Date(now + AHEAD_DAYS * DAY_MS),
  )
  return new Response(rotaCalendar(viewModel, addressOf(request.headers)), {
    headers: {
      'content-type': 'text/calendar; charset=utf-8',
      'content-disposition': 'attachment; filename="rota.ics"',
      'cache-control': 'no-store',
    },
  })
})
