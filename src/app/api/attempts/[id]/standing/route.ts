import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { liveStandingViewModel } from '@/server/view-models'

export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  return Response.json(await liveStandingViewModel(context(), readUuid(id)))
})
