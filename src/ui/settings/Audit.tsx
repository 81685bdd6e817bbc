'use client'
import { useInfiniteQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { AuditLine } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { exact } from '../base/Time'
import { DateField } from '../base/DateField'
import { TextField } from '../base/fields'
import { Field } from '../base/Field'
import { Table, type Column } from '../base/Table'

type Filter = { who: string; action: string; from: string; to: string }
type Window = { lines: AuditLine[]; more: boolean }
const NONE: Filter = { who: '', action: '', from: '', to: '' }

const queryOf = (filter: Filter) =>
  new URLSearchParams(Object.entries(filter).filter(([, value]) => value !== ''))

/** Who did what, newest first. */
export function Audit() {
  const [filter, setFilter] = useState(NONE)
  const { data, error, hasNextPage, fetchNextPage, isFetching } = useInfiniteQuery<Window, ApiProblem>({
    queryKey: ['/api/audit', filter],
    initialPageParam: undefined,
    queryFn: ({ pageParam }) => {
      const query = queryOf(filter)
      if (pageParam !== undefined) query.set('before', String(pageParam))
      return api<Window>(`/api/audit?${query.toString()}`)
    },
    getNextPageParam: ({ lines, more }) => (more ? lines.at(-1)?.id : undefined),
  })
  const lines = data?.pages.flatMap((page) => page.lines) ?? []
  const change = (name: keyof Filter) => (value: string) => setFilter({ ...filter, [name]: value })
  return (
    <>
      <form
        aria-label="Filter the audit trail"
        className="mb-3 grid grid-cols-[1fr_1fr_auto_auto_auto] items-end gap-2"
        onSubmit={(event) => event.preventDefault()}
      >
        <FilterField name="Who, or an id" value={filter.who} placeholder="Wren" onChange={change('who')} />
        <FilterField
          name="What, its beginning"
          value={filter.action}
          placeholder="sign-in"
          onChange={change('action')}
        />
        <Field label="From">
          <DateField aria-label="From" value={filter.from} onChange={change('from')} />
        </Field>
        <Field label="Until">
          <DateField aria-label="Until" value={filter.to} onChange={change('to')} />
        </Field>
        <a
          className="flex h-8 items-center rounded-oak border border-line bg-raised px-3 text-sm hover:border-faint"
          href={`/api/audit/export?${queryOf(filter).toString()}`}
          download
        >
          As a file
        </a>
      </form>
      {error && <Problem>{error.message}</Problem>}
      <Table
        label="Audit trail"
        rows={lines}
        columns={COLUMNS}
        keyOf={({ id }) => id}
        className="table-fixed"
      />
      {data && lines.length === 0 && <p className="py-4 text-sm text-soft">Nothing of this kind was done.</p>}
      {hasNextPage && (
        <Button className="mt-3" disabled={isFetching} onClick={() => void fetchNextPage()}>
          Show older ones
        </Button>
      )}
    </>
  )
}

const COLUMNS: Column<AuditLine>[] = [
  { head: 'When', width: 'w-[150px]', look: 'text-soft', cell: ({ at }) => exact(at) },
  {
    head: 'Who',
    width: 'w-[130px]',
    look: 'truncate',
    cell: ({ who, actor }) => <span title={actor}>{who}</span>,
  },
  {
    head: 'What',
    width: 'w-[150px]',
    look: 'truncate font-mono text-xs',
    cell: ({ action }) => action,
  },
  {
    head: 'Of what',
    look: 'truncate',
    cell: ({ subject, detail }) => (
      <span title={detail}>
        {subject} <span className="text-soft">{detail}</span>
      </span>
    ),
  },
  {
    head: 'From',
    width: 'w-[110px]',
    look: 'truncate font-mono text-xs text-soft',
    cell: ({ address }) => address,
  },
]

type FieldProps = {
  name: string
  value: string
  type?: string
  placeholder?: string
  onChange(value: string): void
}

function FilterField({ name, value, placeholder, onChange }: FieldProps) {
  return (
    <Field label={name}>
      <TextField value={value} placeholder={placeholder} onChange={({ target }) => onChange(target.value)} />
    </Field>
  )
}
