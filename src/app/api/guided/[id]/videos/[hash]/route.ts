import { context } from '@/server/context'
import { keepGuidedVideo } from '@/server/guided'
import { partsOf } from '@/server/http/body'
import { noContent, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const PUT = route<{ id: string; hash: string }>(async (request, { id, hash }) => {
  await requireRole(request, 'tester')
  await keepGuidedVideo(context(), readUuid(id), hash, partsOf(request.body))
  return noContent()
})
