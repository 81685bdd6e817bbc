'use client'
import Link from '../base/Link'
import type { DataSet } from '@/core/model'
import { Button } from '../base/Button'
import { DraftActions } from '../edit/DraftActions'
import { EditConflictDialog } from '../edit/EditConflict'
import { useDraft } from '../edit/useDraft'
import { RowsTable } from './RowsTable'

/** The rows of a case: a table that other cases may share, so it is saved by itself. */
export function DataRows({
  name,
  missing,
  editable,
}: {
  name: string
  missing(table: DataSet): string[]
  editable: boolean
}) {
  const draft = useDraft('data', name)
  const table = draft.definition
  return (
    <section className="border-t border-line">
      <div className="flex h-10 items-center gap-2 px-[18px]">
        <h2 className="label flex-1">
          Rows ·{' '}
          <Link className="underline" href={`/tables/${encodeURIComponent(name)}`}>
            {name}
          </Link>
        </h2>
        {draft.dirty && (
          <>
            <DraftActions draft={draft} />
            <Button look="quiet" onClick={draft.discard}>
              Discard
            </Button>
          </>
        )}
      </div>
      {draft.error && (
        <p role="alert" className="px-[18px] pb-3 text-sm text-failed">
          {draft.error.message}
        </p>
      )}
      {table?.kind === 'data' && (
        <RowsTable table={table} editable={editable} onChange={draft.write} missing={missing(table)} />
      )}
      <EditConflictDialog draft={draft} />
    </section>
  )
}
