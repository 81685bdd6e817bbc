'use client'
import { Ellipsis } from 'lucide-react'
import { useRouter } from 'next/navigation'
import { DropdownMenu } from 'radix-ui'
import { useState } from 'react'
import { toast } from 'sonner'
import { keyOfTitle } from '@/core/model'
import { api, type ApiProblem } from '../api'
import { useAsking } from '../asking'
import { Button, buttonLook } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { benchPath } from '../bench/Uses'
import type { Draft } from './useDraft'
import { submitting } from '../base/submitting'
import { Select, TextField } from '../base/fields'
import { Field } from '../base/Field'

type Asked = 'copy' | 'move' | 'remove'

/** What one does to a definition as a whole, and seldom: copy it, give it to a repository, remove it. */
export function MoreActions({ draft }: { draft: Draft }) {
  const [asked, setAsked] = useState<Asked>()
  const { viewModel } = draft
  if (!viewModel) return null
  const item =
    'cursor-pointer rounded-[4px] px-2.5 py-1.5 outline-none data-[highlighted]:bg-act-wash data-[disabled]:cursor-default data-[disabled]:text-faint'
  const close = () => setAsked(undefined)
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger aria-label="More to do with it" className={buttonLook('quiet', '!px-1.5')}>
          <Ellipsis size={16} aria-hidden />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            sideOffset={4}
            className="z-50 min-w-[220px] rounded-oak border border-line bg-raised p-1.5 text-sm shadow-lg"
          >
            <DropdownMenu.Item className={item} onSelect={() => setAsked('copy')}>
              Copy under another name
            </DropdownMenu.Item>
            {!viewModel.repository && (
              <DropdownMenu.Item
                className={item}
                disabled={viewModel.repositories.length === 0}
                onSelect={() => setAsked('move')}
              >
                Move to a repository
              </DropdownMenu.Item>
            )}
            <DropdownMenu.Item className={item} onSelect={() => setAsked('remove')}>
              Remove
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {asked === 'copy' && <CopyDialog draft={draft} onClose={close} />}
      {asked === 'move' && <MoveDialog draft={draft} onClose={close} />}
      {asked === 'remove' && <RemoveDialog draft={draft} onClose={close} />}
    </>
  )
}

type Props = { draft: Draft; onClose(): void }

function CopyDialog({ draft: { kind, source, viewModel }, onClose }: Props) {
  const router = useRouter()
  const [title, setTitle] = useState(`${viewModel!.title}, a copy`)
  const key = keyOfTitle(kind, kind === 'data' ? title.replace(/\.csv$/, '') : title)
  const { problem, ask } = useAsking(() => {
    onClose()
    router.push(benchPath(kind, key))
  })
  const copy = async () => {
    const { editSource } = await import('@/core/model/editing')
    const text =
      kind === 'data'
        ? source
        : editSource(source, [
            { do: 'set', path: [kind], value: key },
            { do: 'set', path: ['title'], value: title.trim() },
          ])
    await api(`/api/definitions/${kind}/${key}`, { method: 'PUT', body: { source: text, basedOn: 0 } })
  }
  return (
    <Dialog open onClose={onClose} title={`Copy “${viewModel!.title}”`}>
      <form className="flex flex-col gap-3" onSubmit={submitting(() => ask(copy))}>
        <Field label="Title of the copy">
          <TextField autoFocus value={title} onChange={({ target }) => setTitle(target.value)} />
        </Field>
        {key && (
          <p className="text-sm text-soft">
            Its key is <code className="font-mono text-xs text-ink">{key}</code>. The copy is kept in this
            workspace and has a history of its own.
          </p>
        )}
        {problem && <Problem>{problem}</Problem>}
        <div className="flex justify-end">
          <Button look="main" type="submit" disabled={key === ''}>
            Copy
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

function MoveDialog({ draft: { kind, key, viewModel }, onClose }: Props) {
  const { repositories, title } = viewModel!
  const [repositoryId, setRepositoryId] = useState(repositories[0]!.id)
  const [folder, setFolder] = useState('')
  const { problem, ask } = useAsking(() => {
    toast(`It waits to be committed to ${repositories.find(({ id }) => id === repositoryId)!.name}`)
    onClose()
  })
  return (
    <Dialog open onClose={onClose} title={`Move “${title}” to a repository`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={submitting(() =>
          ask(() =>
            api(`/api/definitions/${kind}/${key}/move`, {
              method: 'POST',
              body: { repositoryId, folder: folder.trim() },
            }),
          ),
        )}
      >
        <Field label="Repository">
          <Select value={repositoryId} onChoose={(chosen) => setRepositoryId(Number(chosen))}>
            {repositories.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="Folder in it">
          <TextField
            mono
            value={folder}
            placeholder="at its top"
            onChange={({ target }) => setFolder(target.value)}
          />
        </Field>
        <p className="text-sm text-soft">
          Its history goes with it. It becomes a file with the next commit, which is made under Settings,
          Repositories.
        </p>
        {problem && <Problem>{problem}</Problem>}
        <div className="flex justify-end">
          <Button look="main" type="submit">
            Move
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

function RemoveDialog({ draft: { kind, key, viewModel, discard }, onClose }: Props) {
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
