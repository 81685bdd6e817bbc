import { context } from '@/server/context'
import { addColumn, columnBody } from '@/server/definitions'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** A column more in the table of a case, with a value for each row. */
export const POST = route<{ key: string }>(async (request, { key }) => {
  const person = await requireRole(request, 'tester')
  return Response.json(await addColumn(context(), key, await readBody(request, columnBody), person.name))
})
