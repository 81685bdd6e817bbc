import { context } from '@/server/context'
import { keepPicture } from '@/server/evidence'
import { PICTURE_BODY_BYTES, pictureBody } from '@/server/guided'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const POST = route<{ id: string }>(async (request) => {
  await requireRole(request, 'tester')
  const { bytes } = await readBody(request, pictureBody, { bytes: PICTURE_BODY_BYTES })
  return Response.json(await keepPicture(context(), Buffer.from(bytes, 'base64'), 'The picture'), {
    status: 201,
  })
})
