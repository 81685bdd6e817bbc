import { context } from '@/server/context'
import { noContent, readBody, route, validator } from '@/server/http/route'
import { confirmWithCode, removeSecondFactor, requireRole, startSecondFactor } from '@/server/people'

const field = (name: string, maxLength: number) => ({
  type: 'object',
  additionalProperties: false,
  required: [name],
  properties: { [name]: { type: 'string', minLength: 1, maxLength } },
})
const codeBody = validator<{ code: string }>(field('code', 20))
const passwordBody = validator<{ password: string }>(field('password', 200))

/** Begins: a secret for the device. */
export const POST = route(async (request) =>
  Response.json(await startSecondFactor(context(), await requireRole(request, 'viewer'))),
)

/** Confirms it by a code; the codes for when the device is lost are in this answer and nowhere else. */
export const PUT = route(async (request) => {
  const person = await requireRole(request, 'viewer')
  return Response.json({
    recoveryCodes: await confirmWithCode(context(), person, (await readBody(request, codeBody)).code),
  })
})

export const DELETE = route(async (request) => {
  const person = await requireRole(request, 'viewer')
  await removeSecondFactor(context(), person, (await readBody(request, passwordBody)).password)
  return noContent()
})
