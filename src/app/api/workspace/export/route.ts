import { context } from '@/server/context'
import { exportWorkspace } from '@/server/exchange'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'

export const GET = route(async (request) => {
  await requirePerson(request)
  return new Response(Buffer.from(await exportWorkspace(context())), {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': 'attachment; filename="workspace.zip"',
    },
  })
})
