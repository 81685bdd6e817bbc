'use client'
import { useInfiniteQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { AuditLine } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { exact } from '../base/Time'
import { cell, head } from './looks'
import { TextField } from '../base/fields'

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
        <Field name="Who, or an id" value={filter.who} placeholder="Wren" onChange={change('who')} />
        <Field
          name="What, its beginning"
          value={filter.action}
          placeholder="sign-in"
          onChange={change('action')}
        />
        <Field name="From" type="date" value={filter.from} onChange={change('from')} />
        <Field name="Until" type="date" value={filter.to} onChange={change('to')} />
        <a
          className="flex h-8 items-center rounded-oak border border-line bg-raised px-3 text-sm hover:border-faint"
          href={`/api/audit/export?${queryOf(filter).toString()}`}
          download
        >
          As a file
        </a>
      </form>
      {error && <Problem>{error.message}</Problem>}
      <table className="w-full table-fixed text-sm">
        <thead>
          <tr className="border-b border-line">
            <th className={`${head} w-[150px]`}>When</th>
            <th className={`${head} w-[130px]`}>Who</th>
            <th className={`${head} w-[150px]`}>What</th>
            <th className={head}>Of what</th>
            <th className={`${head} w-[110px]`}>From</th>
          </tr>
        </thead>
        <tbody className="divide-y divide-line">
          {lines.map((line) => (
            <AuditRow key={line.id} line={line} />
          ))}
        </tbody>
      </table>
      {data && lines.length === 0 && <p className="py-4 text-sm text-soft">Nothing of this kind was done.</p>}
      {hasNextPage && (
        <Button className="mt-3" disabled={isFetching} onClick={() => void fetchNextPage()}>
          Show older ones
        </Button>
      )}
    </>
  )
}

function AuditRow({ line: { at, who, actor, action, subject, detail, address } }: { line: AuditLine }) {
  return (
    <tr>
      <td className={`${cell} text-soft`}>{exact(at)}</td>
      <td className={`${cell} truncate`} title={actor}>
        {who}
      </td>
      <td className={`${cell} truncate font-mono text-xs`}>{action}</td>
      <td className={`${cell} truncate`} title={detail}>
        {subject} <span className="text-soft">{detail}</span>
      </td>
      <td className={`${cell} truncate font-mono text-xs text-soft`}>{address}</td>
    </tr>
  )
}

type FieldProps = {
  name: string
  value: string
  type?: string
  placeholder?: string
  onChange(value: string): void
}

function Field({ name, value, type = 'text', placeholder, onChange }: FieldProps) {
  return (
    <label>
      <span className="label">{name}</span>
      <TextField
        type={type}
        value={value}
        placeholder={placeholder}
        onChange={({ target }) => onChange(target.value)}
      />
    </label>
  )
}
