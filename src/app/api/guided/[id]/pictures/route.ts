import { context } from '@/server/context'
import { keepGuidedPicture, PICTURE_BODY_BYTES, pictureBody } from '@/server/guided'
import { readBody, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const POST = route<{ id: string }>(async (request, { id }) => {
  await requireRole(request, 'tester')
  const { bytes } = await readBody(request, pictureBody, { bytes: PICTURE_BODY_BYTES })
  const kept = await keepGuidedPicture(context(), readUuid(id), Buffer.from(bytes, 'base64'))
  return Response.json(kept, { status: 201 })
})
