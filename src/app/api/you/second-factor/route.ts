import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { validator } from '@/server/http/validator'
import { confirmWithCode, removeSecondFactor, requireRole, startSecondFactor } from '@/server/people'

const codeBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['code'],
  properties: { code: { type: 'string', minLength: 1, maxLength: 20 } },
})
const passwordBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['password'],
  properties: { password: { type: 'string', minLength: 1, maxLength: 200 } },
})

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
