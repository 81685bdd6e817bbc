/** A defect drafted from a failure that a result file told: no log is here, only what the program that ran it
 * said. */
import { clipTitle, type DefectDraft } from './defect'

export type ResultFailure = {
  /** What the file calls the case. */
  name: string
  className?: string
  /** Of the program under test, as the result file names it. */
  file?: string
  message?: string
  type?: string
  /** What stands below the message: mostly a stack. */
  detail?: string
}

/** Of names, and of a message and what stands below it: the run has all of it. */
const [NAME_CHARS, TEXT_CHARS, TEXT_LINES] = [500, 8000, 40]

/** @returns words of a draft; `actual` has the beginning of the detail */
export function draftOfResult({ name, className, file, message, type, detail }: ResultFailure): DefectDraft {
  const said = message || firstLine(detail ?? '') || type || 'it failed, and said nothing'
  const place = [className, file && `in ${file}`].filter(Boolean).join(', ').slice(0, NAME_CHARS)
  return {
    title: clipTitle(`${name}: ${firstLine(said)}`),
    steps: `1. Run the test “${name.slice(0, NAME_CHARS)}”${place === '' ? '' : ` of ${place}`}`,
    expected: 'The test passes',
    actual: [said, detail ?? ''].map(beginningOf).filter(Boolean).join('\n\n'),
  }
}

const firstLine = (text: string) => text.trim().split('\n', 1)[0]!

function beginningOf(text: string): string {
  const lines = text.trim().slice(0, TEXT_CHARS).split('\n')
  const kept = lines.slice(0, TEXT_LINES)
  const isCut = kept.length < lines.length || text.trim().length > TEXT_CHARS
  return [...kept, ...(isCut ? ['…'] : [])].join('\n')
}
