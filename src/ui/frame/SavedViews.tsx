'use client'
import { X } from 'lucide-react'
import Link from '../base/Link'
import { Popover } from 'radix-ui'
import { useState } from 'react'
import { queryOfView, type SavedView, type ViewedPage } from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button, buttonLook } from '../base/Button'
import { Field } from '../base/Field'
import { TextField } from '../base/fields'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { useFrame } from './tools'

/** Views of a page that are kept under a name, and keeping this one.
 * @param leftOut what stands in the address, and belongs to no view */
export function SavedViews({ page, leftOut }: { page: ViewedPage; leftOut: readonly string[] }) {
  return (
    <Popover.Root>
      <Popover.Trigger className={buttonLook()}>Views</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          aria-label="Kept views"
          className="z-50 w-[300px] rounded-oak border border-line bg-raised p-3 text-sm shadow-xl"
        >
          <Views page={page} leftOut={leftOut} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function Views({ page, leftOut }: { page: ViewedPage; leftOut: readonly string[] }) {
  const { may } = useFrame()
  const path = `/api/views/${page}`
  const { data = [], refetch } = useViewModel<SavedView[]>(path, ['settings'])
  const [name, setName] = useState('')
  const { problem, busy, ask } = useAsking(() => {
    setName('')
    void refetch()
  })
  const now = queryOfView(window.location.search, leftOut)
  const shown = data.find(({ query }) => query === now)
  const keep = submitting(() => {
    if (name.trim() !== '')
      void ask(() => api(path, { method: 'PUT', body: { name: name.trim(), query: now } }))
  })
  const isThere = data.some((one) => one.name === name.trim())
  return (
    <>
      {data.length === 0 && <p className="mb-2 text-soft">No view is kept yet.</p>}
      <ul className="mb-2 max-h-[260px] overflow-auto empty:hidden">
        {data.map((view) => (
          <li key={view.id} className="flex items-center gap-1">
            <Link
              href={`/${page}${view.query === '' ? '' : `?${view.query}`}`}
              aria-current={view === shown ? 'true' : undefined}
              title={`Kept by ${view.by}`}
              className="min-w-0 flex-1 truncate rounded px-2 py-1 hover:bg-act-wash/60 aria-[current]:bg-act-wash"
            >
              {view.name}
            </Link>
            {may('tester') && (
              <button
                type="button"
                aria-label={`Remove the view ${view.name}`}
                disabled={busy}
                className="rounded p-1 text-soft hover:text-ink"
                onClick={() => void ask(() => api(`${path}/${view.id}`, { method: 'DELETE' }))}
              >
                <X size={13} aria-hidden />
              </button>
            )}
          </li>
        ))}
      </ul>
      {may('tester') && (
        <form onSubmit={keep} className="border-t border-line pt-2">
          <Field label="Keep this one as" hint="Filter, order and columns, for everybody.">
            <TextField value={name} maxLength={80} onChange={({ target }) => setName(target.value)} />
          </Field>
          <Button type="submit" className="mt-2" disabled={busy || name.trim() === ''}>
            {isThere ? 'Keep it anew' : 'Keep it'}
          </Button>
        </form>
      )}
      {problem && <Problem>{problem}</Problem>}
    </>
  )
}
