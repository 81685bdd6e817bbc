import { plural, type DefectViewModel } from '@/core/view-models'

/** "6 defects: 4 with the tracker, 1 mailed, 1 on the way". */
export function describeCountOf(defects: readonly DefectViewModel[]): string {
  if (defects.length === 0) return ''
  const count = (fits: (defect: DefectViewModel) => boolean) => defects.filter(fits).length
  const parts = [
    [count(({ state, mailTo }) => state === 'sent' && mailTo === null), 'with the tracker'],
    [count(({ state, mailTo }) => state === 'sent' && mailTo !== null), 'mailed'],
    [count(({ state }) => state === 'to-send'), 'on the way'],
    [count(({ state }) => state === 'draft'), 'not sent yet'],
  ] as const
  return `${plural(defects.length, 'defect')}: ${parts
    .filter(([n]) => n > 0)
    .map(([n, words]) => `${n} ${words}`)
    .join(', ')}`
}
