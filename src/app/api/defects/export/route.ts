import { context } from '@/server/context'
import { serveDefects } from '@/server/defects'
import { route } from '@/server/http/route'
import { requirePerson } from '@/server/people'

/** Defects as a file: csv, xlsx or md. */
export const GET = route(async (request) => {
  await requirePerson(request)
  return serveDefects(context(), new URL(request.url).searchParams)
})
