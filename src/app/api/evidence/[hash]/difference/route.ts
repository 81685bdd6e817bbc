import { context } from '@/server/context'
import { screenDifference } from '@/server/evidence'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'

/** Where a screen differs from another one, whose hash is in `from`. */
export const GET = route<{ hash: string }>(async (request, { hash }) => {
  await requirePerson(request)
  const from = new URL(request.url).searchParams.get('from') ?? ''
  return Response.json(await screenDifference(context(), from, hash))
})
