import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requirePerson, requireToken } from '@/server/people'
import { RUNS_USUAL, serveRotationReport } from '@/server/reports/rotation'

/** The rotation over its last runs as a file: `as` is html, pdf, xlsx, csv, xml or json, `runs` how many. For
 * a person, or a program with a token. */
export const GET = route<{ key: string }>(async (request, { key }) => {
  if (request.headers.has('authorization')) await requireToken(request, 'ci')
  else await requirePerson(request)
  const asked = new URL(request.url).searchParams
  const runs = Number(asked.get('runs') ?? RUNS_USUAL)
  return serveRotationReport(context(), decodeURIComponent(key), runs, asked.get('as') ?? 'html')
})
