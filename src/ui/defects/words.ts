import { plural, type DefectViewModel } from '@/core/view-models'

/** "6 defects: 4 with the tracker, 1 waits for it, 1 a draft". */
export function describeCountOf(defects: readonly DefectViewModel[]): string {
  if (defects.length === 0) return ''
  const count = (state: DefectViewModel['state']) => defects.filter((defect) => defect.state === state).length
  const parts = [
    [count('sent'), 'with the tracker'],
    [count('to-send'), 'on the way to it'],
    [count('draft'), 'not sent yet'],
  ] as const
  return `${plural(defects.length, 'defect')}: ${parts
    .filter(([n]) => n > 0)
    .map(([n, words]) => `${n} ${words}`)
    .join(', ')}`
}
