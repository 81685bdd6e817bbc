import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { calendarsBody, putBlackoutCalendars } from '@/server/rota'

/** All blackout calendars at once. */
export const PUT = route(async (request) => {
  const person = await requireRole(request, 'coordinator')
  await putBlackoutCalendars(context(), await readBody(request, calendarsBody), person.name)
  return noContent()
})
