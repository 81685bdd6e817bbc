'use client'
import type { FileProblem } from '@/core/model'

export type BenchProblem = { field: string; message: string; line?: number }

/** Everything that stands in the way, as sentences; each leads to its field. */
export function Problems({ problems }: { problems: readonly BenchProblem[] }) {
  if (problems.length === 0) return null
  return (
    <section aria-label="Problems" className="border-b border-failed/40 bg-failed-wash px-[18px] py-2">
      <ul className="flex flex-col gap-0.5 text-sm">
        {problems.map(({ field, message, line }) => (
          <li key={`${field} ${message}`}>
            <button
              type="button"
              className="text-left underline decoration-failed/60 underline-offset-2 hover:decoration-2"
              onClick={() => goTo(field)}
            >
              {sentence(message)}
            </button>
            {line !== undefined && <span className="text-soft"> (line {line} of its file)</span>}
          </li>
        ))}
      </ul>
    </section>
  )
}

const sentence = (message: string) =>
  `${message.charAt(0).toUpperCase()}${message.slice(1)}${/[.!?]$/.test(message) ? '' : '.'}`

/** To the nearest field that has a place on the bench: "where.axes.os.0" is shown at "where.axes.os". */
function goTo(field: string): void {
  const parts = field.replaceAll('/', '.').split('.')
  for (let length = parts.length; length > 0; length--) {
    const found = document.querySelector<HTMLElement>(
      `[data-field="${CSS.escape(parts.slice(0, length).join('.')).replaceAll('\\.', '.')}"]`,
    )
    if (!found) continue
    found.scrollIntoView({ block: 'center' })
    const target = found.matches('input, select, button')
      ? found
      : found.querySelector<HTMLElement>('input, select, button')
    target?.focus()
    return
  }
}

/** Of the text, of what it names, and of the plan; what two of them say is said once. */
export function gathered(
  problems: readonly FileProblem[],
  warnings: readonly FileProblem[],
  faults: readonly { path: string; message: string }[],
): BenchProblem[] {
  const all: BenchProblem[] = [
    ...problems.map(({ field, message, line }) => ({
      field,
      message: `${field ? `${field}: ` : ''}${message}`,
      line,
    })),
    ...warnings.map(({ field, message }) => ({ field, message })),
    ...faults.map(({ path, message }) => ({ field: path.replaceAll('/', '.'), message })),
  ]
  return [...new Map(all.map((one) => [one.message, one])).values()]
}
