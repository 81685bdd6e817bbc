import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { askBeside, windowIn } from '@/server/reading'

/** A window of this attempt beside another one; `path`: the line of this one whose other is wanted whole. */
export const GET = route<{ id: string; other: string }>(async (request, { id, other }) => {
  await requirePerson(request)
  const asked = new URL(request.url).searchParams
  const path = asked.get('path')
  const ask = { ...windowIn(asked), ...(path !== null && { path }) }
  return Response.json(await askBeside(context(), readUuid(other), readUuid(id), ask))
})
