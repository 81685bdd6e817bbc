/** A step that a person carries out and judges. */
import { endBy } from '@/core/guided'
import type { StepOf } from '@/core/model'
import { StepFault } from './fault'
import { filledText, type Done, type StepParts } from './parts'

/** @throws {StepFault} nobody is there; it is not so; or it could not be done */
export async function doneByPerson(parts: StepParts, step: StepOf<'do'>, path: string): Promise<Done> {
  const words = filledText(parts, step.words)
  const expected = step.expected === undefined ? undefined : filledText(parts, step.expected)
  if (!parts.askPerson)
    throw new StepFault({
      kind: 'script',
      message: `“${words}” is for a person: open a live session of this case, and carry it out there`,
    })
  const verdict = await parts.askPerson({ words, ...(expected !== undefined && { expected }) })
  await parts.log.screen(parts.driver, path, 'after', true).catch(() => {})
  const { outcome, note, failure } = endBy(verdict, verdict.by, expected)
  if (failure) throw new StepFault(failure)
  return { ...(note !== undefined && { note }), ...(outcome === 'skipped' && { isSkipped: true }) }
}
