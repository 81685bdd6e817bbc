import { context } from '@/server/context'
import { readNumber, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { knownDefects } from '@/server/triage'

/** Logged defects that a cause of the run may be, the most alike first. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  const signature = new URL(request.url).searchParams.get('signature') ?? ''
  return Response.json(await knownDefects(context(), readNumber(id), signature))
})
