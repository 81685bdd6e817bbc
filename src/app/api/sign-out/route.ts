import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requireRole, signOut, withoutBody } from '@/server/people'

export const POST = route(async (request) => {
  const person = await requireRole(request, 'viewer')
  const answer = withoutBody(await signOut(context(), person, request.headers))
  answer.headers.set('clear-site-data', '"cache"') // what was seen stays nowhere
  return answer
})
