import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { suitesViewModel } from '@/server/view-models'

export const GET = route(async (request) => {
  await requirePerson(request)
  return Response.json(await suitesViewModel(context()))
})
