'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import {
  plural,
  type FoundViewModel,
  type RepositoryDetailViewModel,
  type RepositoryViewModel,
} from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { RemoveButton } from '../base/RemoveButton'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/tools'
import { AddRepository } from './AddRepository'
import { ChangeRepository } from './ChangeRepository'
import { FileProblems } from './FileProblems'
import { FOUND_WORDS, summaryOf, type Report } from './reports'
import { submitting } from '../base/submitting'
import { Select, TextField } from '../base/fields'
import { Field } from '../base/Field'

export function ReadAgain({
  repository,
}: {
  repository: Pick<RepositoryViewModel, 'id' | 'name' | 'readAt'>
}) {
  const [busy, setBusy] = useState(false)
  const { may } = useFrame()
  const read = async () => {
    setBusy(true)
    try {
      toast(
        `${repository.name}: ${summaryOf(await api<Report>(`/api/repositories/${repository.id}/read`, { method: 'POST' }))}`,
      )
    } catch (error) {
      toast.error((error as ApiProblem).message)
    } finally {
      setBusy(false)
    }
  }
  return (
    <span className="flex items-center gap-2 text-xs text-soft">
      {repository.readAt && (
        <span>
          read <Ago at={repository.readAt} />
        </span>
      )}
      {may('tester') && (
        <Button onClick={() => void read()} disabled={busy} aria-label={`Read again ${repository.name}`}>
          {busy ? 'Reading' : 'Read again'}
        </Button>
      )}
    </span>
  )
}

/** Each repository: where it is, what its last reading found, what was edited here and waits to be
 * committed. */
export function RepositoryPanel({ repositories }: { repositories: RepositoryViewModel[] }) {
  const { may } = useFrame()
  const [adding, setAdding] = useState(false)
  return (
    <div className="flex flex-col gap-5">
      {repositories.length === 0 && <p className="text-soft">Everything is kept in this workspace so far.</p>}
      {repositories.map((repository) => (
        <OneRepository key={repository.id} repository={repository} />
      ))}
      {may('admin') &&
        (adding || repositories.length === 0 ? (
          <AddRepository />
        ) : (
          <div>
            <Button onClick={() => setAdding(true)}>Add a repository</Button>
          </div>
        ))}
    </div>
  )
}

function OneRepository({ repository }: { repository: RepositoryViewModel }) {
  const { data } = useViewModel<RepositoryDetailViewModel>(`/api/repositories/${repository.id}`, [
    'definitions',
  ])
  const { may } = useFrame()
  const [isMoving, setIsMoving] = useState(false)
  return (
    <section aria-label={repository.name} className="rounded-oak border border-line">
      <header className="flex items-center gap-3 border-b border-line px-3 py-2">
        <div className="min-w-0 flex-1">
          <h3 className="font-semibold">{repository.name}</h3>
          <p className="font-mono text-xs break-all text-soft">
            {repository.location}, branch {repository.branch}
            {data?.folder && `, folder ${data.folder}`}
            {repository.commit && `, at ${repository.commit.slice(0, 7)}`}
            {data && data.access !== 'none' && `, with a ${ACCESS_WORDS[data.access]}`}
          </p>
        </div>
        {data && may('admin') && (
          <Button onClick={() => setIsMoving(!isMoving)} aria-expanded={isMoving}>
            Change
          </Button>
        )}
        <ReadAgain repository={repository} />
      </header>
      {data && (
        <div className="flex flex-col gap-3 p-3">
          {isMoving && <ChangeRepository detail={data} onDone={() => setIsMoving(false)} />}
          {data.problems.length > 0 && <Broken detail={data} />}
          {data.edits.length > 0 && <Commit detail={data} />}
          <FoundList found={data.found} />
          {may('admin') && (
            <div className="flex items-start gap-4">
              <div className="flex-1">
                <Timer detail={data} />
              </div>
              <RemoveRepository detail={data} />
            </div>
          )}
        </div>
      )}
    </section>
  )
}

const ACCESS_WORDS = { token: 'token', key: 'private key' } as const

const SHOWN_AT_ONCE = 5

/** Files that could not be read, or say what is not so: each keeps its last good version. */
function Broken({ detail: { name, problems } }: { detail: RepositoryDetailViewModel }) {
  return (
    <details open={problems.length <= SHOWN_AT_ONCE} className="rounded-oak bg-failed-wash px-3 py-2">
      <summary className="text-sm font-semibold">
        {plural(problems.length, 'problem')} in the files; a broken one keeps its last good version
      </summary>
      <div className="mt-1 max-h-56 overflow-auto">
        <FileProblems problems={problems} label={`Problems in ${name}`} />
      </div>
    </details>
  )
}

function FoundList({ found }: { found: FoundViewModel[] }) {
  if (found.length === 0) return <p className="text-sm text-soft">The last reading found nothing changed.</p>
  return (
    <details open={found.length <= 12}>
      <summary className="text-sm">The last reading: {summaryOf({ found, problems: [] })}</summary>
      <ul
        className="mt-1 max-h-56 divide-y divide-line overflow-auto text-sm"
        aria-label="What the last reading found"
      >
        {found.map(({ what, kind, key, title, file, changes }) => (
          <li key={`${kind}${key}`} className="py-1">
            <b className={`font-semibold ${what === 'conflict' || what === 'removed' ? 'text-failed' : ''}`}>
              {FOUND_WORDS[what]}
            </b>{' '}
            {title} <span className="font-mono text-xs text-soft">{file}</span>
            {changes.length > 0 && <span className="block text-xs text-soft">{changes.join('; ')}</span>}
          </li>
        ))}
      </ul>
    </details>
  )
}

/** What was edited here goes back as one commit. */
function Commit({ detail }: { detail: RepositoryDetailViewModel }) {
  const { may } = useFrame()
  const [branch, setBranch] = useState('rotation-edits')
  const [message, setMessage] = useState('')
  const [problem, setProblem] = useState<string>()
  const [busy, setBusy] = useState(false)
  const commit = async () => {
    setBusy(true)
    setProblem(undefined)
    try {
      const done = await api<{ commit: string; branch: string; files: string[] }>(
        `/api/repositories/${detail.id}/commit`,
        { method: 'POST', body: { branch: branch.trim(), message: message.trim() } },
      )
      toast(`${plural(done.files.length, 'file')} committed to ${done.branch}, as ${done.commit.slice(0, 7)}`)
      setMessage('')
    } catch (error) {
      setProblem((error as ApiProblem).message)
    } finally {
      setBusy(false)
    }
  }
  return (
    <form
      aria-label={`Commit to ${detail.name}`}
      className="rounded-oak bg-recovered-wash p-3"
      onSubmit={submitting(commit)}
    >
      <p className="text-sm font-semibold">
        {plural(detail.edits.length, 'file')} edited here and not in the repository yet
      </p>
      <ul className="mb-2 text-sm">
        {detail.edits.map(({ kind, key, title, file, conflict, fresh, on }) => (
          <li key={`${kind}${key}`}>
            {title} <span className="font-mono text-xs text-soft">{file}</span>
            {fresh && ', new there'}
            {on && `, on the branch ${on} already`}
            {conflict && <b className="text-failed">, changed there too: open it and decide</b>}
          </li>
        ))}
      </ul>
      {may('tester') && (
        <div className="grid grid-cols-[150px_1fr_auto] items-end gap-2">
          <Field label="Branch">
            <TextField value={branch} onChange={({ target }) => setBranch(target.value)} />
          </Field>
          <Field label="Message">
            <TextField
              value={message}
              onChange={({ target }) => setMessage(target.value)}
              placeholder="What changed, and why"
            />
          </Field>
          <Button look="main" type="submit" disabled={busy || message.trim() === '' || branch.trim() === ''}>
            Commit
          </Button>
        </div>
      )}
      {problem && (
        <div className="mt-2">
          <Problem>{problem}</Problem>
        </div>
      )}
    </form>
  )
}

/** Minutes between two readings, with words for them. */
const TIMES: [minutes: number, words: string][] = [
  [0, 'never'],
  [5, 'every 5 minutes'],
  [15, 'every 15 minutes'],
  [60, 'every hour'],
  [240, 'every 4 hours'],
  [1440, 'every day'],
]

function Timer({ detail }: { detail: RepositoryDetailViewModel }) {
  const set = (everyMinutes: number) =>
    void api(`/api/repositories/${detail.id}`, { method: 'PATCH', body: { everyMinutes } }).then(
      () => toast(everyMinutes === 0 ? 'It is read when asked' : `It is read every ${everyMinutes} minutes`),
      (problem: ApiProblem) => toast.error(problem.message),
    )
  return (
    <div className="text-sm">
      <label className="flex items-center gap-2">
        Read it by itself{' '}
        <Select width="w-auto" defaultValue={detail.everyMinutes} onChoose={(chosen) => set(Number(chosen))}>
          {TIMES.map(([n, words]) => (
            <option key={n} value={n}>
              {words}
            </option>
          ))}
        </Select>
      </label>
      {detail.webhookSecret && (
        <details className="mt-1">
          <summary className="text-soft">When something is pushed</summary>
          <p className="mt-1 text-soft">
            Let your git server send a signed message (Standard Webhooks) to{' '}
            <code className="font-mono text-xs text-ink">/api/repositories/{detail.id}/webhook</code>, signed
            with <code className="font-mono text-xs break-all text-ink">{detail.webhookSecret}</code>
          </p>
          <p className="mt-1 text-soft">
            One that signs nothing, or in a way of its own, posts to{' '}
            <code className="font-mono text-xs break-all text-ink">
              /api/repositories/{detail.id}/webhook?token={detail.webhookToken}
            </code>
          </p>
        </details>
      )}
    </div>
  )
}

function RemoveRepository({ detail: { id, name, edits } }: { detail: RepositoryDetailViewModel }) {
  return (
    <RemoveButton
      label={`Remove from here: ${name}`}
      word="Remove from here"
      title={`Remove ${name} from this workspace`}
      onRemove={() =>
        api(`/api/repositories/${id}${edits.length > 0 ? '?edits=too' : ''}`, { method: 'DELETE' })
      }
    >
      Its cases, routines, suites and tables go from here, and from suites that hold them. History, versions
      and the repository itself stay; read again, all comes back.
      {edits.length > 0 && (
        <b className="mt-2 block text-failed">
          {plural(edits.length, 'file')} edited here and not committed {edits.length === 1 ? 'is' : 'are'}{' '}
          lost: {edits.map(({ file }) => file).join(', ')}.
        </b>
      )}
    </RemoveButton>
  )
}
