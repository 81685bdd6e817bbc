import { context } from '@/server/context'
import { readBody, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { experimentBody, experimentsViewModel, startExperiment } from '@/server/triage'

type Params = { id: string }

export const GET = route<Params>(async (request, { id }) => {
  await requireRole(request, 'viewer')
  const cause = new URL(request.url).searchParams.get('cause') ?? ''
  return Response.json(await experimentsViewModel(context(), readUuid(id), cause))
})

export const POST = route<Params>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  const asked = await readBody(request, experimentBody)
  const runs = await startExperiment(context(), readUuid(id), asked, person.name)
  return Response.json({ runs }, { status: 201 })
})
