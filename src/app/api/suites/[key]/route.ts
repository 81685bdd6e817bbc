import type { Suite } from '@/core/model'
import { context } from '@/server/context'
import { checkDefinition } from '@/server/definitions'
import { Problem } from '@/server/http/problems'
import { readBody, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { requirePerson } from '@/server/people'
import { suiteViewModel } from '@/server/view-models'

const body = validator({
  type: 'object',
  additionalProperties: false,
  required: ['source'],
  properties: { source: { type: 'string' } },
})

export const GET = route<{ key: string }>(async (request, { key }) => {
  await requirePerson(request)
  return Response.json(await suiteViewModel(context(), key))
})

/** The same of a text under edit; nothing is kept. */
export const POST = route<{ key: string }>(async (request, { key }) => {
  await requirePerson(request)
  const { definition, problems } = await checkDefinition(
    context(),
    'suite',
    key,
    (await readBody(request, body)).source,
  )
  if (!definition)
    throw new Problem('DEFINITION_BROKEN', `Line ${problems[0]!.line}: ${problems[0]!.message}.`, {
      problems,
    })
  return Response.json(await suiteViewModel(context(), key, definition as Suite))
})
