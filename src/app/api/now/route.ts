import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { nowViewModel } from '@/server/view-models'

export const GET = route(async (request) => {
  await requirePerson(request)
  const offset = Number(new URL(request.url).searchParams.get('offset')) || 0
  return Response.json(await nowViewModel(context(), offset))
})
