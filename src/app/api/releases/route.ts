import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'
import { releaseViewModel, signBody, signRelease } from '@/server/requirements'

/** What is known of a build. */
export const GET = route(async (request) => {
  await requirePerson(request)
  return Response.json(await releaseViewModel(context(), new URL(request.url).searchParams.get('build')))
})

/** Signs the sheet that was read. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'coordinator')
  const id = await signRelease(context(), await readBody(request, signBody), person.name)
  return Response.json({ id }, { status: 201 })
})
