import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { caseViewModel } from '@/server/view-models'

export const GET = route<{ key: string }>(async (request, { key }) => {
  await requirePerson(request)
  return Response.json(await caseViewModel(context(), key))
})
