import { context } from '@/server/context'
import { agentBodies, claimWork } from '@/server/dispatch'
import { readBody, route } from '@/server/http/route'
import { liveHub } from '@/server/live'
import { requireAgent } from '@/server/people'

/** Looks again at least this often: a note of new work may be missed while the listener reconnects. */
const LOOK_AGAIN_MS = 5000

/** Long poll: answers with work as soon as there is some, or with none when the wait is over. */
export const POST = route<{ id: string }>(async (request, { id }) => {
  const agent = await requireAgent(request, id)
  const { waitMs = 0 } = await readBody(request, agentBodies.claim)
  const until = Date.now() + waitMs
  const hub = liveHub(context().connection.url)
  for (;;) {
    if (request.signal.aborted) return Response.json({ work: null }) // nobody is there to take it
    const work = await claimWork(context(), agent)
    const left = until - Date.now()
    if (work || left <= 0) return Response.json({ work: work ?? null })
    await hub.next('work', Math.min(left, LOOK_AGAIN_MS), request.signal)
  }
})
