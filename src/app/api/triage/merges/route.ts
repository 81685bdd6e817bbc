import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { mergeBody, mergeCauses } from '@/server/triage'

/** Two causes are taken for one from now on. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  const id = await mergeCauses(context(), await readBody(request, mergeBody), person.name)
  return Response.json({ id }, { status: 201 })
})
