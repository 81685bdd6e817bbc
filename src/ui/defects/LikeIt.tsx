'use client'
import Link from '../base/Link'
import { useState } from 'react'
import type { KnownDefect } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { TextField } from '../base/fields'
import { Problem } from '../base/Parts'

/** Less alike than this it is another one more often than not. */
const LIKENESS_LEAST = 0.45
const SHOWN = 3

type Issue = { number: string; title: string; state: string; url: string }

/** Before a defect is logged: those that it may be already, here and at the tracker. */
export function LikeIt({
  known,
  hasTracker,
  disabled,
  onSame,
  onAdopt,
}: {
  known: readonly KnownDefect[]
  hasTracker: boolean
  disabled: boolean
  /** The failure is this one. */
  onSame(id: number): void
  /** It is this issue of the tracker. */
  onAdopt(number: string): void
}) {
  const shown = known.filter(({ likeness }) => likeness >= LIKENESS_LEAST).slice(0, SHOWN)
  if (shown.length === 0 && !hasTracker) return null
  return (
    <section aria-label="Known already?" className="rounded-oak bg-ground px-3 py-2 text-sm">
      <h3 className="label mb-1">Known already?</h3>
      <ul className="flex flex-col gap-1 empty:hidden">
        {shown.map(({ id, title, number, state, likeness, because }) => (
          <li key={id} className="flex items-baseline gap-2">
            <span className="min-w-0 flex-1">
              <Link className="underline" href={`/defects?id=${id}`}>
                {number ?? `Defect ${id}`}: {title}
              </Link>{' '}
              <span className="text-soft">
                {state}, {Math.round(likeness * 100)} % alike: {because}
              </span>
            </span>
            <Button
              disabled={disabled}
              aria-label={`It is this one: ${number ?? `defect ${id}`}`}
              onClick={() => onSame(id)}
            >
              It is this one
            </Button>
          </li>
        ))}
      </ul>
      {hasTracker && <AtTheTracker disabled={disabled} onAdopt={onAdopt} />}
      <p className="mt-1 text-xs text-soft">
        In place of a new one: the tracker is told that it was seen again, with the evidence below, and the
        cause is decided as known.
      </p>
    </section>
  )
}

/** What the tracker has that nobody logged from here. */
function AtTheTracker({ disabled, onAdopt }: { disabled: boolean; onAdopt(number: string): void }) {
  const [words, setWords] = useState('')
  const [found, setFound] = useState<Issue[]>()
  const { problem, busy, ask } = useAsking()
  const search = () =>
    void ask(async () =>
      setFound(await api<Issue[]>(`/api/tracker-issues?${new URLSearchParams({ q: words.trim() })}`)),
    )
  return (
    <>
      <div className="mt-1 flex items-center gap-2">
        <TextField
          type="search"
          aria-label="Words to search the tracker for"
          placeholder="search the tracker"
          width="w-64"
          maxLength={200}
          value={words}
          onChange={({ target }) => setWords(target.value)}
          onKeyDown={(event) => {
            if (event.key !== 'Enter') return
            event.preventDefault() // the form around it logs a defect
            if (words.trim() !== '') search()
          }}
        />
        <Button disabled={busy || words.trim() === ''} onClick={search}>
          Search
        </Button>
        {found?.length === 0 && <span className="text-soft">It has nothing with these words.</span>}
      </div>
      {problem && <Problem>{problem}</Problem>}
      <ul
        aria-label="Found at the tracker"
        className="mt-1 flex max-h-[160px] flex-col gap-1 overflow-auto empty:hidden"
      >
        {found?.map(({ number, title, state, url }) => (
          <li key={number} className="flex items-baseline gap-2">
            <span className="min-w-0 flex-1">
              <a className="underline" href={url === '' ? undefined : url} target="_blank" rel="noreferrer">
                {number}: {title}
              </a>{' '}
              <span className="text-soft">{state}</span>
            </span>
            <Button
              disabled={disabled}
              aria-label={`It is this one: ${number}`}
              onClick={() => onAdopt(number)}
            >
              It is this one
            </Button>
          </li>
        ))}
      </ul>
    </>
  )
}
