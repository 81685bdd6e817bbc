/** A step that a person carries out and judges. */
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
  const {
    is,
    note: written,
    by,
  } = await parts.askPerson({ words, ...(expected !== undefined && { expected }) })
  const note = written.trim()
  await parts.log.screen(parts.driver, path, 'after', true).catch(() => {})
  const said = note === '' ? '' : `: ${note}`
  switch (is) {
    case 'passed':
      return { note: `seen by ${by}${said}` }
    case 'skipped':
      return { note: `passed over by ${by}${said}`, isSkipped: true }
    case 'failed':
      throw new StepFault({
        kind: 'check',
        // What was seen stands beside what was expected.
        message: `${by} saw that it is not so${expected === undefined ? said : ''}`,
        ...(expected !== undefined && { expected, actual: note || 'something else' }),
      })
    case 'cannot':
      throw new StepFault({ kind: 'script', message: `${by} could not do it${said}` })
  }
}
