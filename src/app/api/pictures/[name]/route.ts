import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'
import { pictureBody, removePicture, servePicture, setPicture } from '@/server/pictures'

export const GET = route<{ name: string }>(async (request, { name }) => {
  await requirePerson(request)
  return servePicture(context(), name)
})

export const PUT = route<{ name: string }>(async (request, { name }) => {
  const person = await requireRole(request, 'tester')
  await setPicture(context(), name, await readBody(request, pictureBody), person.name)
  return noContent()
})

export const DELETE = route<{ name: string }>(async (request, { name }) => {
  const person = await requireRole(request, 'tester')
  await removePicture(context(), name, person.name)
  return noContent()
})
