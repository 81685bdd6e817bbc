import { context } from '@/server/context'
import { noContent, readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { readViewedPage, removeView } from '@/server/saved-views'

export const DELETE = route<{ page: string; id: string }>(async (request, { page, id }) => {
  const person = await requireRole(request, 'tester')
  await removeView(context(), readViewedPage(page), readNumber(id), person.name)
  return noContent()
})
