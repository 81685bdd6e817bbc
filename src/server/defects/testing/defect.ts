import { addDefect, noteSent } from '@/db/defects'
import type { TestContext } from '../../testing/context'

/** A defect as somebody logged it. @param number it has at the tracker; absent: it is a draft
 * @returns its id */
export async function addedDefect(ctx: TestContext, number?: string, state = 'open'): Promise<number> {
  const words = {
    title: number ?? 'No fare',
    steps: '',
    expected: '',
    actual: '',
    severity: 'low' as const,
  }
  const place = { environment: 'Wide', build: '1.0', evidence: [], caseKey: 'a', runId: 1, createdBy: 'Wren' }
  const { id } = await addDefect(ctx.db, { ...words, ...place }, ctx.now)
  if (number !== undefined) await noteSent(ctx.db, id, { number, state, url: '' })
  return id
}
