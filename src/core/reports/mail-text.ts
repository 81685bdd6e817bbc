/** What a report says in the mail it is attached to. */
import type { Mark } from '../execution'
import { plural } from '../view-models'
import type { RotationReport } from './rotation-report'
import type { RunReport } from './run-report'

export type MailText = { subject: string; text: string }
const FAILURES_MOST = 20
const ORDER = ['failed', 'errored', 'recovered', 'passed', 'skipped', 'cancelled'] as const satisfies Mark[]

const countsIn = (counts: Partial<Record<Mark, number>>): string =>
  ORDER.flatMap((mark) => ((counts[mark] ?? 0) > 0 ? `${counts[mark]} ${mark}` : [])).join(', ') ||
  'no case run ended'

/** @param address of the product; absent: nobody reaches it by one */
export function runMail({ id, title, build, counts, cases }: RunReport, address?: string): MailText {
  const failing = cases.filter(({ mark }) => mark === 'failed' || mark === 'errored')
  const lines = failing
    .slice(0, FAILURES_MOST)
    .map(
      (one) =>
        `- ${one.title}${one.row === null ? '' : `, ${one.row}`} (${one.environment}): ` +
        `${one.failure ?? one.mark}`,
    )
  return {
    subject: lineOf(`${title}, build ${build}: ${countsIn(counts)}`),
    text: [
      `${title}, no. ${id}, build ${build}: ${countsIn(counts)}.`,
      ...(lines.length > 0 ? ['', 'What failed:', ...lines.map(lineOf)] : []),
      ...(failing.length > lines.length ? [`and ${failing.length - lines.length} more`] : []),
      ...(address === undefined ? [] : ['', `${address}/runs/${id}`]),
      '',
    ].join('\n'),
  }
}

export function rotationMail({ rotation, title, runs, cases }: RotationReport, address?: string): MailText {
  const failing = cases.filter(({ failures }) => failures > 0)
  const last = runs.at(-1)
  return {
    subject: lineOf(`${title} over ${plural(runs.length, 'run')}: ${plural(failing.length, 'case')} failed`),
    text: [
      ...(last ? [`The last run, build ${last.build}: ${countsIn(last.counts)}.`] : ['It has not run yet.']),
      ...(failing.length > 0 ? ['', 'What failed most:'] : []),
      ...failing
        .slice(0, FAILURES_MOST)
        .map((one) => lineOf(`- ${one.title} (${one.environment}): ${one.failures} of ${one.marks.length}`)),
      ...(address === undefined ? [] : ['', `${address}/rotations/${rotation}`]),
      '',
    ].join('\n'),
  }
}

/** One line, of a length that mail programs show. */
const lineOf = (text: string) => text.replace(/\s+/g, ' ').trim().slice(0, 300)
