import { context } from '@/server/context'
import { draftOfCaseRun } from '@/server/defects'
import { readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** A defect drafted from what a result file said of a failure. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  await requireRole(request, 'tester')
  return Response.json(await draftOfCaseRun(context(), readUuid(id)))
})
