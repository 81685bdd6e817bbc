import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'
import { readViewedPage, savedViewBody, savedViewsViewModel, saveView } from '@/server/saved-views'

/** The views that are kept of a page. */
export const GET = route<{ page: string }>(async (request, { page }) => {
  await requirePerson(request)
  return Response.json(await savedViewsViewModel(context(), readViewedPage(page)))
})

/** Keeps one, in place of that with the same name. */
export const PUT = route<{ page: string }>(async (request, { page }) => {
  const person = await requireRole(request, 'tester')
  await saveView(context(), readViewedPage(page), await readBody(request, savedViewBody), person.name)
  return noContent()
})
