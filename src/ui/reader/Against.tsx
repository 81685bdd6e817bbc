import type { AttemptViewModel } from '@/core/view-models'
import { MARK_WORDS } from '../base/Mark'
import { clock } from '../base/Time'
import { Select } from '../base/fields'

const day = (moment: string) =>
  new Date(moment).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })

/** Chooses the attempt that this one is compared with. */
export function Against({
  viewModel,
  chosen,
  onChoose,
}: {
  viewModel: AttemptViewModel
  chosen: string | undefined
  onChoose(id: string): void
}) {
  const { lastGood, others } = viewModel
  const isListed = others.some(({ attemptId }) => attemptId === lastGood?.attemptId)
  const choices = [
    ...(lastGood && !isListed
      ? [{ value: lastGood.attemptId, label: `Last good: ${lastGood.runTitle}, build ${lastGood.build}` }]
      : []),
    ...others.map(({ attemptId, runTitle, build, environment, agent, mark, endedAt }) => ({
      value: attemptId,
      label:
        `${attemptId === lastGood?.attemptId ? 'Last good: ' : ''}${runTitle}, build ${build}, ` +
        `${environment}, ${agent}: ${MARK_WORDS[mark]}, ${day(endedAt)} ${clock(endedAt)}`,
    })),
  ]
  return (
    <label className="flex min-w-0 items-center gap-2">
      <span className="shrink-0 text-soft">Then</span>
      <Select value={chosen ?? ''} choices={choices} onChoose={onChoose} className="max-w-[420px] min-w-0" />
    </label>
  )
}
