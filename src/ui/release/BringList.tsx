'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { plural, type RequirementsTaken } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button, buttonLook } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { useFrame } from '../frame/tools'
import { listIn } from './list-file'

type Looked = { list: string; would: RequirementsTaken }
const send = (list: string, look: boolean) =>
  api<RequirementsTaken>('/api/requirements', { method: 'PUT', body: { list, look } })

/** The list of requirements, out and in: what would change is shown before anything does. */
export function BringList({ hasSome }: { hasSome: boolean }) {
  const { may } = useFrame()
  const [asking, setAsking] = useState(false)
  return (
    <>
      <Button onClick={() => setAsking(true)}>{may('coordinator') ? 'Bring a list' : 'The list'}</Button>
      {asking && <ListDialog hasSome={hasSome} onClose={() => setAsking(false)} />}
    </>
  )
}

function ListDialog({ hasSome, onClose }: { hasSome: boolean; onClose(): void }) {
  const { may } = useFrame()
  const [looked, setLooked] = useState<Looked>()
  const { problem, busy, ask } = useAsking()
  const look = (file: File | undefined) =>
    file &&
    ask(async () => {
      setLooked(undefined)
      const list = await listIn(file)
      setLooked({ list, would: await send(list, true) })
    })
  const take = (list: string) =>
    ask(async () => {
      const { all } = await send(list, false)
      toast(`${plural(all, 'requirement')} in the list`)
      onClose()
    })
  return (
    <Dialog open onClose={onClose} title="Requirements as a list">
      {hasSome && (
        <p className="mb-4 flex items-center gap-2">
          <a className={buttonLook()} href="/api/requirements?as=csv" download>
            As CSV
          </a>
          <a className={buttonLook()} href="/api/requirements?as=xlsx" download>
            As XLSX
          </a>
        </p>
      )}
      {may('coordinator') && (
        <>
          <p className="mb-3 text-sm text-soft">
            A row a requirement: <code className="font-mono">id</code>,{' '}
            <code className="font-mono">title</code>, and where you want{' '}
            <code className="font-mono">parent</code> and <code className="font-mono">importance</code> (must,
            should, could). The list takes the place of the one that is there.
          </p>
          <label
            className={
              `${buttonLook()} cursor-pointer focus-within:outline focus-within:outline-2 ` +
              'focus-within:outline-act'
            }
          >
            From a file
            <input
              type="file"
              accept=".csv,.xlsx"
              className="sr-only"
              onChange={({ target }) => {
                void look(target.files?.[0])
                target.value = ''
              }}
            />
          </label>
          {problem && (
            <div className="mt-3">
              <Problem>{problem}</Problem>
            </div>
          )}
          {looked && <Would looked={looked} busy={busy} onTake={() => void take(looked.list)} />}
        </>
      )}
    </Dialog>
  )
}

function Would({ looked: { would }, busy, onTake }: { looked: Looked; busy: boolean; onTake(): void }) {
  const { added, changed, removed, all, wouldLose } = would
  const isSame = added.length + changed.length + removed.length === 0
  const lines: [string, readonly string[]][] = [
    ['new', added],
    ['changed', changed],
    ['gone', removed],
  ]
  return (
    <section aria-label="What it would change" className="mt-4 border-t border-line pt-3 text-sm">
      <p>{isSame ? `All ${all} are there as they are.` : `${plural(all, 'requirement')} in the file.`}</p>
      {lines.map(
        ([words, keys]) =>
          keys.length > 0 && (
            <p key={words} className="mt-1">
              <b className="font-semibold">
                {keys.length} {words}:
              </b>{' '}
              {keys.slice(0, 20).join(', ')}
              {keys.length > 20 && ' and more'}
            </p>
          ),
      )}
      {wouldLose.length > 0 && (
        <p className="mt-1 text-failed">
          {plural(wouldLose.length, 'case')} {wouldLose.length === 1 ? 'names' : 'name'} what would be gone:{' '}
          {wouldLose.slice(0, 10).join(', ')}
          {wouldLose.length > 10 && ' and more'}
        </p>
      )}
      <Button look="main" className="mt-3" disabled={busy} onClick={onTake}>
        Take the list
      </Button>
    </section>
  )
}
