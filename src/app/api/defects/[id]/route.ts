import { context } from '@/server/context'
import { changeDefect, editBody } from '@/server/defects'
import { readBody, readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { defectViewModel } from '@/server/view-models'

export const PATCH = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  return Response.json(
    defectViewModel(
      await changeDefect(context(), readNumber(id), await readBody(request, editBody), person.name),
    ),
  )
})
