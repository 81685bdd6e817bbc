import { context } from '@/server/context'
import { keepEvidence } from '@/server/evidence'
import { noContent, readBytes, route } from '@/server/http/route'
import { requireAgent } from '@/server/people'

/** A long video at its worst; a screen is a thousandth of it. */
const EVIDENCE_MOST_BYTES = 64_000_000

export const PUT = route<{ id: string; hash: string }>(async (request, { id, hash }) => {
  await requireAgent(request, id)
  const bytes = await readBytes(request, EVIDENCE_MOST_BYTES)
  await keepEvidence(context(), hash, request.headers.get('content-type') ?? '', bytes)
  return noContent()
})
