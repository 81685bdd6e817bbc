import { context } from '@/server/context'
import { filesBody, importFiles, readZip } from '@/server/exchange'
import { readBody, readBytes, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

const ZIP_BYTES_MOST = 50_000_000

/** A zip, or files as JSON. Without `apply=yes` it only says what would change. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  const zipped = request.headers.get('content-type')?.startsWith('application/zip')
  const files = zipped
    ? await readZip(context(), await readBytes(request, ZIP_BYTES_MOST))
    : (await readBody(request, filesBody, { bytes: ZIP_BYTES_MOST })).files
  return Response.json(
    await importFiles(
      context(),
      files,
      new URL(request.url).searchParams.get('apply') === 'yes',
      person.name,
    ),
  )
})
