import { context } from '@/server/context'
import { Problem } from '@/server/http/problems'
import { route } from '@/server/http/route'
import { requireRole, requireToken } from '@/server/people'
import { importResults } from '@/server/results'

const LABEL = /^[A-Za-z0-9][A-Za-z0-9._ -]{0,99}$/

/** A result file as the body: from a page by a signed-in person, or with a CI token. */
export const POST = route(async (request) => {
  const who = request.headers.has('authorization')
    ? (await requireToken(request, 'ci')).name
    : (await requireRole(request, 'tester')).name
  const given = new URL(request.url).searchParams
  const label = (name: string) => {
    const text = given.get(name) ?? undefined
    if (text !== undefined && !LABEL.test(text))
      throw new Problem('BODY_INVALID', `“${name}” is letters, digits, dots, dashes and blanks, at most 100.`)
    return text
  }
  const [build, environment] = [label('build'), label('environment')]
  const answer = await importResults(
    context(),
    (request.body ?? []) as AsyncIterable<Uint8Array>,
    {
      name: (given.get('name') ?? 'results').slice(0, 120) || 'results',
      ...(build && { build }),
      ...(environment && { environment }),
    },
    who,
  )
  return Response.json(answer, { status: 201 })
})
