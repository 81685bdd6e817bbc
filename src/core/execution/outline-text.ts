import type { OutlineLine } from './outline'

/** An outline as plain text, a line a step, indented as it is nested; what failed, and what came instead,
 * stands under its step. */
export const outlineText = (lines: readonly OutlineLine[]): string => `${lines.flatMap(linesOf).join('\n')}\n`

function linesOf({ depth, words, mark, ms, failure, note }: OutlineLine): string[] {
  const indent = '  '.repeat(Math.max(0, depth))
  const step = [words.verb, words.object, words.detail].filter(Boolean).join(' ')
  const time = ms === undefined ? '' : `, ${(ms / 1000).toFixed(1)} s`
  return [
    `${indent}${step} (${mark}${time})`,
    ...[
      failure?.message,
      failure?.expected !== undefined && `expected: ${failure.expected}`,
      failure?.actual !== undefined && `actual: ${failure.actual}`,
      note,
    ]
      .filter((one) => typeof one === 'string')
      .map((one) => `${indent}    ${one}`),
  ]
}
