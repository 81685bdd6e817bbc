'use client'
import { useRouter } from '../base/opening'
import { toast } from 'sonner'
import { api, type ApiProblem } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { benchPath } from '../bench/path'
import type { Draft } from './useDraft'

type Props = { draft: Draft; onClose(): void }

export function RemoveDialog({ draft: { kind, key, viewModel, discard }, onClose }: Props) {
  const router = useRouter()
  const { title, uses, version, repository, file, source } = viewModel!
  const { problem, ask } = useAsking(() => {
    discard()
    toast(`“${title}” is removed`, {
      action: {
        label: 'Bring it back',
        onClick: () =>
          void api(`/api/definitions/${kind}/${key}`, { method: 'PUT', body: { source, basedOn: 0 } }).then(
            () => router.push(benchPath(kind, key)),
            (fault: ApiProblem) => toast.error(fault.message),
          ),
      },
    })
    router.push('/suites')
  })
  return (
    <Dialog open onClose={onClose} title={`Remove “${title}”`}>
      <div className="flex flex-col gap-3 text-sm">
        {repository ? (
          <p>
            It is kept in {repository.name}: take the file <code className="font-mono text-xs">{file}</code>{' '}
            out there, and read the repository again.
          </p>
        ) : (
          <>
            {uses.length > 0 && (
              <p>
                It is used in {uses.map((use) => use.title).join(', ')}: what stands there will name something
                that is not there, and say so.
              </p>
            )}
            <p>Its runs, history and versions stay.</p>
          </>
        )}
        {problem && <Problem>{problem}</Problem>}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Keep it</Button>
          {!repository && (
            <Button
              look="danger"
              onClick={() =>
                void ask(() =>
                  api(`/api/definitions/${kind}/${key}?basedOn=${version}`, { method: 'DELETE' }),
                )
              }
            >
              Remove
            </Button>
          )}
        </div>
      </div>
    </Dialog>
  )
}
