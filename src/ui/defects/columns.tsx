import type { DefectViewModel } from '@/core/view-models'
import type { Column } from '../base/Table'
import { Ago } from '../base/Time'
import { TrackerState } from './TrackerState'

type Asked = {
  onChoose(id: number): void
  /** Defects are marked to do something with all of them; absent: this person may not. */
  marks?: { has(id: number): boolean; toggle(id: number): void } | undefined
}
type DefectColumn = Column<DefectViewModel>
const plain = (head: string, width: string, by: NonNullable<DefectColumn['by']>): DefectColumn => ({
  head,
  width,
  look: 'text-xs text-soft',
  by,
  cell: (defect) => by(defect),
})

/** Columns that can be chosen, by the name that stands in the address. */
export const CHOSEN_COLUMNS = {
  severity: plain('Severity', 'w-[76px]', ({ severity }) => severity),
  environment: plain('Environment', 'w-[132px]', ({ environment }) => environment),
  case: { ...plain('Case', 'w-[132px]', ({ caseKey }) => caseKey), look: 'font-mono text-xs text-soft' },
  build: { ...plain('Build', 'w-[84px]', ({ build }) => build), look: 'font-mono text-xs text-soft' },
  by: plain('Logged by', 'w-[108px]', ({ createdBy }) => createdBy),
  logged: {
    ...plain('Logged', 'w-[104px]', ({ createdAt }) => createdAt),
    cell: ({ createdAt }) => <Ago at={createdAt} />,
  },
  sent: {
    ...plain('Sent', 'w-[104px]', ({ sentAt }) => sentAt),
    cell: ({ sentAt }) => sentAt && <Ago at={sentAt} />,
  },
} satisfies Record<string, DefectColumn>
export type ChosenColumn = keyof typeof CHOSEN_COLUMNS
export const COLUMN_NAMES = Object.keys(CHOSEN_COLUMNS) as ChosenColumn[]
export const USUAL_COLUMNS: ChosenColumn[] = ['build', 'logged']

const SEVERITY_ORDER = { critical: '1', high: '2', normal: '3', low: '4' }

/** @param chosen in any order: they stand in that of all columns */
export function columnsOf(chosen: readonly ChosenColumn[], { onChoose, marks }: Asked): DefectColumn[] {
  const shows = (name: ChosenColumn) => chosen.includes(name)
  return [
    ...(marks ? [markColumn(marks)] : []),
    {
      head: 'Tracker',
      width: marks ? 'w-[108px]' : 'w-[120px] pl-[18px]',
      look: marks ? '' : 'pl-[18px]',
      by: ({ trackerNumber, state }) => trackerNumber ?? state,
      cell: (defect) => <TrackerState defect={defect} />,
    },
    {
      head: 'Defect',
      as: 'name',
      width: 'min-w-[200px]',
      by: ({ title }) => title,
      cell: ({ id, title, severity, environment }) => (
        <>
          <button
            type="button"
            className="block text-left leading-[18px] font-medium"
            onClick={() => onChoose(id)}
          >
            {title}
          </button>
          <span className="block text-xs text-soft empty:hidden">
            {[!shows('severity') && severity, !shows('environment') && environment]
              .filter(Boolean)
              .join(', ')}
          </span>
        </>
      ),
    },
    ...COLUMN_NAMES.filter(shows).map((name) =>
      name === 'severity'
        ? {
            ...CHOSEN_COLUMNS.severity,
            by: ({ severity }: DefectViewModel) => SEVERITY_ORDER[severity],
            cell: ({ severity }: DefectViewModel) => severity,
          }
        : CHOSEN_COLUMNS[name],
    ),
  ]
}

const markColumn = ({ has, toggle }: NonNullable<Asked['marks']>): DefectColumn => ({
  head: 'Mark',
  as: 'do',
  width: 'w-[44px] pl-[18px]',
  look: 'pl-[18px] pr-2 !text-left',
  cell: ({ id, title }) => (
    <input
      type="checkbox"
      aria-label={`Mark ${title}`}
      className="align-middle accent-(--act)"
      checked={has(id)}
      onChange={() => toggle(id)}
      onClick={(event) => event.stopPropagation()}
    />
  ),
})
