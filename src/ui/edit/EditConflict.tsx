'use client'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Ago } from '../base/Time'
import { toast } from 'sonner'
import type { FileProblem } from '@/core/model'
import { plural, type EditConflict } from '@/core/view-models'
import { TwoTexts } from './TwoTexts'
import type { Draft } from './useDraft'

/** Two people edited: the second one sees both, and nothing is lost whatever they choose. */
export function EditConflictDialog({ draft }: { draft: Draft }) {
  const other = draft.conflict
  return (
    <Dialog
      open={other !== undefined}
      onClose={() => draft.showConflict(undefined)}
      title="Somebody else saved while you edited"
      wide
    >
      {other && (
        <>
          <p className="mb-3 text-sm">
            {other.who} saved version {other.version} <Ago at={other.at} />:{' '}
            {other.changes.join('; ') || 'only comments or layout'}. Your text is not lost: it stays here
            until you save or discard it.
          </p>
          <TwoTexts
            mine={draft.source}
            theirs={other.source}
            theirName={`${other.who}, version ${other.version}`}
          />
          <div className="mt-4 flex flex-wrap gap-2">
            <Button look="main" onClick={() => draft.rebase(other.version)}>
              Go on with mine, over theirs
            </Button>
            <Button onClick={() => draft.takeTheirs(other)}>Take theirs, mine one undo away</Button>
            <Button look="quiet" onClick={() => draft.showConflict(undefined)}>
              Decide later
            </Button>
          </div>
        </>
      )}
    </Dialog>
  )
}

/** A band over the bench: somebody was quicker, or the repository has another text. */
export function EditConflictBand({ draft }: { draft: Draft }) {
  const { viewModel, behind } = draft
  if (behind && viewModel) {
    const show = async () => {
      const versions = await api<{ number: number; who: string; at: string; changes: string[] }[]>(
        `/api/definitions/${draft.kind}/${draft.key}/versions`,
      )
      const newest = versions[0]!
      draft.showConflict({
        version: newest.number,
        who: newest.who,
        at: newest.at,
        changes: newest.changes,
        source: viewModel.source,
      } satisfies EditConflict)
    }
    return (
      <Band>
        Version {viewModel.version} was saved by somebody else while you edit.{' '}
        <Button onClick={() => void show()}>See both</Button>
      </Band>
    )
  }
  if (typeof viewModel?.theirs !== 'string') return <BrokenBand problems={viewModel?.broken ?? []} />
  const resolve = (keep: 'ours' | 'theirs') =>
    void api(`/api/definitions/${draft.kind}/${draft.key}/settle`, { method: 'POST', body: { keep } }).then(
      () =>
        toast(keep === 'ours' ? 'Yours stays, and can be committed' : 'The repository’s text is here now'),
      (problem: ApiProblem) => toast.error(problem.message),
    )
  return (
    <Band>
      It was edited here and in the repository; both texts are kept.
      <details className="w-full">
        <summary className="text-sm underline">What differs</summary>
        <TwoTexts
          mine={viewModel.source}
          theirs={viewModel.theirs}
          theirName={viewModel.repository?.name ?? 'the repository'}
        />
      </details>
      <Button onClick={() => resolve('ours')}>Keep the one from here</Button>{' '}
      <Button onClick={() => resolve('theirs')}>Take the repository’s</Button>
    </Band>
  )
}

/** The repository has a newer text that cannot be read. */
function BrokenBand({ problems: [first, ...others] }: { problems: readonly FileProblem[] }) {
  if (!first) return null
  return (
    <Band>
      <span>
        The newest text in the repository cannot be read; this is the last that could be. Line {first.line}
        {first.field && `, ${first.field}`}: {first.message}
        {others.length > 0 && `, and ${plural(others.length, 'more problem')}`}.
      </span>
    </Band>
  )
}

const Band = ({ children }: { children: React.ReactNode }) => (
  <div
    role="alert"
    className="flex flex-wrap items-center gap-3 border-b border-recovered/50 bg-recovered-wash px-[18px] py-2 text-sm text-ink"
  >
    {children}
  </div>
)
