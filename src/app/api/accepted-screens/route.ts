import { context } from '@/server/context'
import { Problem } from '@/server/http/problems'
import { readBody, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'
import { acceptBody, acceptedHistory, acceptScreens } from '@/server/screens'

/** What holds for a check of a screen, and what did before: `?case=…&name=…&environment=…`. */
export const GET = route(async (request) => {
  await requirePerson(request)
  const asked = new URL(request.url).searchParams
  const [caseKey, name, environment] = ['case', 'name', 'environment'].map((one) => asked.get(one) ?? '')
  if (!caseKey || !name || !environment)
    throw new Problem('BODY_INVALID', 'Say of which case, name and environment.')
  return Response.json(await acceptedHistory(context(), { caseKey, name, environment }))
})

export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  return Response.json(await acceptScreens(context(), await readBody(request, acceptBody), person.name))
})
