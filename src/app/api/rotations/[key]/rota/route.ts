import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { changeRota, rotaChangeBody } from '@/server/rota'

/** Moves a start or all of them, gives it another pool, pauses it. */
export const POST = route<{ key: string }>(async (request, { key }) => {
  const person = await requireRole(request, 'coordinator')
  return Response.json(
    await changeRota(context(), key, await readBody(request, rotaChangeBody), person.name, Date.now()),
  )
})
