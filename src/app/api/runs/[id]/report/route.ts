import { context } from '@/server/context'
import { readNumber, route } from '@/server/http/route'
import { requirePerson, requireToken } from '@/server/people'
import { serveRunReport } from '@/server/reports/run'

/** The run as a file: `as` is html, csv, xml or json. For a person, or a program with a token. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  if (request.headers.has('authorization')) await requireToken(request, 'ci')
  else await requirePerson(request)
  const as = new URL(request.url).searchParams.get('as') ?? 'html'
  return serveRunReport(context(), readNumber(id), as)
})
