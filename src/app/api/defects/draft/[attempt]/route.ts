import { context } from '@/server/context'
import { draftFrom } from '@/server/defects'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'

export const GET = route<{ attempt: string }>(async (request, { attempt }) => {
  await requirePerson(request)
  return Response.json(await draftFrom(context(), readUuid(attempt)))
})
