import { Readable } from 'node:stream'
import { auditCsv, auditFilter } from '@/server/audit'
import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requireReader } from '@/server/people'

export const GET = route(async (request) => {
  await requireReader(request, 'admin')
  const lines = auditCsv(context(), auditFilter(new URL(request.url).searchParams))
  const headers = {
    'content-type': 'text/csv; charset=utf-8',
    'content-disposition': 'attachment; filename="audit.csv"',
  }
  return new Response(Readable.toWeb(Readable.from(lines)) as ReadableStream, { headers })
})
