'use client'
import { useState, type ReactNode } from 'react'
import type { OutlineLine } from '@/core/execution'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { readEvidence } from '../base/evidence'

/** Asked for at once, beyond the first that come with the line. */
const MORE = 300

/** What the page asked for and said while a step ran, by time.
 * @param more what there is of it beyond what the line has */
export function StepLog({ attemptId, line, more }: { attemptId: string; line: OutlineLine; more: number }) {
  const [others, setOthers] = useState<Entries[]>([])
  const entries = [line, ...others].flatMap(entriesOf)
  const first = line.console.length + line.requests.length
  const left = more - (entries.length - first)
  const { problem, busy, ask } = useAsking()
  const readMore = async () => {
    const url = `/api/attempts/${attemptId}/lines/${encodeURIComponent(line.path)}/entries`
    const next = await api<Entries>(`${url}?from=${entries.length}&count=${MORE}`)
    setOthers([...others, next])
  }
  return (
    <div className="mt-4">
      <h3 className="label mb-1">While this step ran</h3>
      <ul className="space-y-0.5 font-mono text-xs leading-[17px]">
        {entries.map(({ atMs, node }, i) => (
          <li key={i} className="flex gap-2.5">
            <span className="shrink-0 text-soft">{(atMs / 1000).toFixed(3)}</span>
            <span className="min-w-0 break-all">{node}</span>
          </li>
        ))}
      </ul>
      {problem && <Problem>{problem}</Problem>}
      {left > 0 && (
        <Button className="mt-2" disabled={busy} onClick={() => void ask(readMore)}>
          Show {Math.min(MORE, left)} more of {left.toLocaleString('en')}
        </Button>
      )}
    </div>
  )
}

type Entries = Pick<OutlineLine, 'console' | 'requests'>

function entriesOf({ requests, console: lines }: Entries): { atMs: number; node: ReactNode }[] {
  const asked = requests.map((request) => ({ atMs: request.atMs, node: <Request request={request} /> }))
  const said = lines.map((entry) => ({ atMs: entry.atMs, node: <ConsoleLine entry={entry} /> }))
  return [...asked, ...said].sort((a, b) => a.atMs - b.atMs)
}

function ConsoleLine({ entry }: { entry: OutlineLine['console'][number] }) {
  return <span className={entry.level === 'error' ? 'text-failed' : ''}>console: {entry.text}</span>
}

function Request({
  request: { method, url, status, ms, exchange },
}: {
  request: OutlineLine['requests'][number]
}) {
  const failed = status >= 400 || status === 0
  return (
    <>
      {method} {shortUrl(url)} <b className={failed ? 'text-failed' : ''}>{answerOf(status)}</b> {ms} ms
      {exchange && <Exchange hash={exchange} />}
    </>
  )
}

/** Headers and bodies, where somebody wants to see them. */
function Exchange({ hash }: { hash: string }) {
  const [text, setText] = useState<string>()
  const { problem, busy, ask } = useAsking()
  const read = async () => setText(await readEvidence(hash))
  if (text === undefined)
    return (
      <>
        {' '}
        <button
          type="button"
          disabled={busy}
          onClick={() => void ask(read)}
          className="font-sans underline decoration-faint underline-offset-2 hover:text-act"
        >
          headers and bodies
        </button>
        {problem && <Problem>{problem}</Problem>}
      </>
    )
  return (
    <pre className="mt-1 max-h-[260px] overflow-auto rounded-oak border border-line bg-surface p-2 whitespace-pre-wrap">
      {text}
    </pre>
  )
}

/** 0: there was no answer; -1: this browser does not tell. */
function answerOf(status: number): string {
  if (status === -1) return 'answered'
  return status === 0 ? 'no answer' : String(status)
}

const shortUrl = (url: string) => url.replace(/^https?:\/\/[^/]+/, '')
