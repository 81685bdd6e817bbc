import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { invite, inviteBody, memberViewModels, requireReader, requireRole } from '@/server/people'

export const GET = route(async (request) => {
  await requireReader(request, 'admin')
  return Response.json(await memberViewModels(context()))
})

/** The link is in this answer and nowhere else. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'admin')
  return Response.json(await invite(context(), await readBody(request, inviteBody), person), { status: 201 })
})
