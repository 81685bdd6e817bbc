'use client'
import Link from '../base/Link'
import { toast } from 'sonner'
import { plural, type OutboxEntry } from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Empty, Problem, TitleLine } from '../base/Parts'
import { Table, type Column } from '../base/Table'
import { Ago, clock, useNow } from '../base/Time'
import { useFrame } from '../frame/tools'

/** What waits to be sent to the tracker or by mail: why, and when it is tried again. */
export function OutboxView({ initial }: { initial: OutboxEntry[] }) {
  const { data = initial } = useViewModel<OutboxEntry[]>('/api/outbox', ['defects'], initial)
  const { may } = useFrame()
  const { problem, busy, ask } = useAsking()
  const held = data.filter(({ conflict }) => conflict !== null).length
  const tryAll = () =>
    void ask(async () => {
      await api('/api/outbox', { method: 'POST' })
      toast('All of it is tried now')
    })
  return (
    <>
      <TitleLine
        title="Outbox"
        facts={
          data.length > 0 &&
          [`${data.length} waiting`, held > 0 && `${held} for somebody to decide`].filter(Boolean).join(', ')
        }
      >
        <Link href="/defects" className="text-sm text-soft underline">
          Defects
        </Link>
        {may('tester') && data.length > 0 && (
          <Button look="main" disabled={busy} onClick={tryAll}>
            Try all now
          </Button>
        )}
      </TitleLine>
      {problem && <Problem>{problem}</Problem>}
      {data.length === 0 ? (
        <Empty title="Nothing waits">
          What is sent to the tracker or by mail and cannot be delivered stands here, with why, until it is.
          It is tried again by itself for some days.
        </Empty>
      ) : (
        <div className="min-h-0 flex-1 overflow-auto bg-surface">
          <Table
            label="What waits to be sent"
            rows={data}
            columns={COLUMNS}
            keyOf={({ defectId, messageId }) => `${defectId} ${messageId}`}
          />
        </div>
      )}
    </>
  )
}

const COLUMNS: Column<OutboxEntry>[] = [
  {
    head: 'Of',
    as: 'name',
    width: 'w-[26%] pl-[18px]',
    look: 'pl-[18px]',
    by: ({ title }) => title,
    cell: ({ defectId, title }) => (
      <Link href={`/defects?id=${defectId}`} className="font-medium underline decoration-faint">
        {title}
      </Link>
    ),
  },
  { head: 'What', width: 'w-[24%]', cell: ({ what }) => <span className="line-clamp-2">{what}</span> },
  { head: 'To', width: 'w-[120px]', look: 'text-soft', by: ({ to }) => to, cell: ({ to }) => to },
  {
    head: 'Since',
    width: 'w-[130px]',
    look: 'text-xs text-soft',
    by: ({ since }) => since,
    cell: ({ since, by }) => (
      <>
        <Ago at={since} />
        <span className="block">{by}</span>
      </>
    ),
  },
  { head: 'Why it waits', cell: (entry) => <Why entry={entry} /> },
]

function Why({ entry: { problem, conflict, tries, nextAt } }: { entry: OutboxEntry }) {
  const now = useNow()
  if (conflict)
    return (
      <>
        It is {conflict.now} at the tracker, and was {conflict.seen} when this was said: open it, and say it
        all the same or withdraw it.
      </>
    )
  const isDue = nextAt !== null && now !== undefined && Date.parse(nextAt) <= now.getTime()
  return (
    <>
      {problem ?? 'It is on its way.'}
      <span className="block text-xs text-soft">
        {tries > 0 && `${plural(tries, 'try', 'tries')} so far; `}
        {nextAt === null && 'it is not tried again by itself'}
        {nextAt !== null && (isDue ? 'it is tried now' : `next at ${clock(nextAt)}`)}
      </span>
    </>
  )
}
