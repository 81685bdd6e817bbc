/** Computes outlooks off the page's own thread, the newest question first: what was asked before it is not
 * worth answering any more. */
import { outlook, variantsOf, type Outlook, type OutlookBasis, type Variant } from '@/core/rota'
import type { RotationWhere } from '@/core/model'

export type Asked = { no: number; rotation: { where: RotationWhere; retries: number }; basis?: OutlookBasis }
export type Answered = { no: number } & ({ outlook: Outlook; tookMs: number } | { variants: Variant[] })

const scope = self as unknown as {
  onmessage: ((event: { data: Asked }) => void) | null
  postMessage(answer: Answered): void
}
const clock = () => performance.now()
let basis: OutlookBasis | undefined
let newest: Asked | undefined

scope.onmessage = ({ data }) => {
  basis = data.basis ?? basis
  const idle = newest === undefined
  newest = data
  if (idle) setTimeout(answer) // after the questions that wait already
}

function answer(): void {
  const asked = newest
  if (!asked || !basis) return
  const begun = clock()
  const found = outlook(asked.rotation, basis, { clock })
  scope.postMessage({ no: asked.no, outlook: found, tookMs: clock() - begun })
  // Questions that came meanwhile go first; what would change it can wait.
  setTimeout(() => {
    if (newest !== asked) return answer()
    newest = undefined
    scope.postMessage({ no: asked.no, variants: variantsOf(asked.rotation, basis!, found, clock) })
  })
}
