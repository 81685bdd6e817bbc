import { context } from '@/server/context'
import { assignBody, assignGuided } from '@/server/guided'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  await assignGuided(context(), await readBody(request, assignBody), person.name)
  return new Response(null, { status: 204 })
})
