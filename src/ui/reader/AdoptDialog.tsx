'use client'
import { useQuery } from '@tanstack/react-query'
import Link from '../base/Link'
import { useState } from 'react'
import { toast } from 'sonner'
import { plural, type AdoptedChecks, type AdoptedFile, type AdoptionViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { OneOf, type Words } from '../base/ToggleGroup'
import { TwoTexts } from '../edit/TwoTexts'

const WHICH: Words<AdoptedChecks> = [
  ['one', 'This check'],
  ['alike', 'All of the run that expected and found the same'],
  ['cause', 'All of its cause in the run'],
  ['run', 'All failed checks of the run'],
]
/** Lines around a change that are shown with it. */
const AROUND = 2

/** What a failed check found becomes what it expects: the change of each file first, then saved as its next
 * version. */
export function AdoptDialog({
  attemptId,
  path,
  usual = 'one',
  onClose,
}: {
  attemptId: string
  path: string
  /** Which checks are looked at first. */
  usual?: AdoptedChecks
  onClose(): void
}) {
  const [which, setWhich] = useState(usual)
  const { problem, busy, ask } = useAsking(onClose)
  const url = `/api/attempts/${attemptId}/adoption`
  const { data, error, refetch } = useQuery<AdoptionViewModel, ApiProblem>({
    queryKey: [url, path, which],
    queryFn: () => api(url, { method: 'POST', body: { path, which } }),
    meta: { topics: ['definitions'] },
    gcTime: 0, // what was proposed another time is about other versions
  })
  const save = async () => {
    const files = data!.files.map(({ kind, key, version }) => ({ kind, key, version }))
    const saved = await api<AdoptedFile[]>(url, { method: 'PUT', body: { path, which, files } }).catch(
      (fault: unknown) => {
        void refetch() // somebody else saved: what would change now is shown
        throw fault
      },
    )
    tellSaved(saved)
  }
  return (
    <Dialog open onClose={onClose} title="Adopt what was found" wide>
      <OneOf label="Which checks" value={which} choices={WHICH} onChoose={setWhich} />
      {error && <Problem>{error.message}</Problem>}
      {!data && !error && <div className="mt-4 h-40 animate-pulse rounded bg-line/40" />}
      {data?.files.map((file) => (
        <FileChange key={`${file.kind} ${file.key}`} file={file} />
      ))}
      {data && data.refused.length > 0 && <Refused refused={data.refused} />}
      {problem && <Problem>{problem}</Problem>}
      <div className="mt-4 flex gap-2">
        <Button
          look="main"
          disabled={busy || !data || data.files.length === 0}
          onClick={() => void ask(save)}
        >
          {data && data.files.length > 1 ? `Save ${data.files.length} files` : 'Save as the next version'}
        </Button>
        <Button look="quiet" onClick={onClose}>
          Leave it as it is
        </Button>
      </div>
    </Dialog>
  )
}

function FileChange({
  file: { kind, key, before, after, changes },
}: {
  file: AdoptionViewModel['files'][number]
}) {
  const different = [...new Map(changes.map((change) => [change.where + change.becomes, change])).values()]
  return (
    <section aria-label={`${kind} ${key}`} className="mt-4">
      <ul className="mb-2 space-y-0.5 text-sm">
        {different.map(({ where, was, becomes }) => (
          <li key={where} className="first-letter:uppercase">
            {where}: <span className="font-mono text-xs">{was || 'nothing'}</span> becomes{' '}
            <span className="font-mono text-xs">{becomes || 'nothing'}</span>
          </li>
        ))}
        {changes.length > 1 && (
          <li className="text-soft">{plural(changes.length, 'failed check')} expect it.</li>
        )}
      </ul>
      <TwoTexts theirs={before} mine={after} theirName="now" myName="then" around={AROUND} />
    </section>
  )
}

function Refused({ refused }: { refused: AdoptionViewModel['refused'] }) {
  return (
    <section aria-label="Not adopted" className="mt-4 text-sm">
      <h3 className="label mb-1">Cannot be adopted</h3>
      <ul className="max-h-40 space-y-0.5 overflow-auto">
        {refused.map(({ attemptId, path, title, environment, why }) => (
          <li key={attemptId + path}>
            <Link
              href={`/attempts/${attemptId}?step=${path}`}
              className="underline decoration-faint underline-offset-2"
            >
              {title}
            </Link>
            , {environment}: {why}.
          </li>
        ))}
      </ul>
    </section>
  )
}

/** Says what was saved, with a way back. */
function tellSaved(saved: readonly AdoptedFile[]): void {
  const [first] = saved
  const back = async () => {
    for (const { kind, key, before } of saved)
      await api(`/api/definitions/${kind}/${encodeURIComponent(key)}/versions/${before}/restore`, {
        method: 'POST',
      })
  }
  toast(
    saved.length === 1
      ? `Adopted: ${first!.kind} ${first!.key} is saved as version ${first!.version}`
      : `Adopted in ${saved.length} files`,
    {
      action: {
        label: 'Undo',
        onClick: () =>
          void back().then(
            () => toast('As it was before, as a version of its own'),
            (problem: ApiProblem) => toast.error(problem.message),
          ),
      },
    },
  )
}
