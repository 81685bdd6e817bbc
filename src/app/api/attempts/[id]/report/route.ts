import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson, requireToken } from '@/server/people'
import { serveCaseRunReport } from '@/server/reports/run'

/** The case run of this attempt as a file: `as` is html, pdf, xlsx, csv, xml or json. For a person, or a
 * program with a token. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  if (request.headers.has('authorization')) await requireToken(request, 'ci')
  else await requirePerson(request)
  const as = new URL(request.url).searchParams.get('as') ?? 'html'
  return serveCaseRunReport(context(), readUuid(id), as)
})
