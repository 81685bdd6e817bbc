import { context } from '@/server/context'
import { addressOf, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { rotationViewModel } from '@/server/view-models'

export const GET = route<{ key: string }>(async (request, { key }) => {
  await requirePerson(request)
  return Response.json(await rotationViewModel(context(), key, addressOf(request.headers)))
})
