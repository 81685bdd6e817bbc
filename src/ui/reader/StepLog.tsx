'use client'
import { useState, type ReactNode } from 'react'
import type { OutlineLine } from '@/core/execution'
import { Button } from '../base/Button'

/** So many at first, and with each asking. */
const SHOWN = 300

/** What the page asked for and said while a step ran, by time. */
export function StepLog({ line }: { line: OutlineLine }) {
  const [most, setMost] = useState(SHOWN)
  const entries = entriesOf(line)
  const left = entries.length - most
  return (
    <div className="mt-4">
      <h3 className="label mb-1">While this step ran</h3>
      <ul className="space-y-0.5 font-mono text-xs leading-[17px]">
        {entries.slice(0, most).map(({ atMs, node }, i) => (
          <li key={i} className="flex gap-2.5">
            <span className="shrink-0 text-soft">{(atMs / 1000).toFixed(3)}</span>
            <span className="min-w-0 break-all">{node}</span>
          </li>
        ))}
      </ul>
      {left > 0 && (
        <Button className="mt-2" onClick={() => setMost(most + SHOWN)}>
          Show {Math.min(SHOWN, left)} more of {left.toLocaleString('en')}
        </Button>
      )}
    </div>
  )
}

function entriesOf({ requests, console: lines }: OutlineLine): { atMs: number; node: ReactNode }[] {
  const asked = requests.map((request) => ({ atMs: request.atMs, node: <Request request={request} /> }))
  const said = lines.map((entry) => ({ atMs: entry.atMs, node: <ConsoleLine entry={entry} /> }))
  return [...asked, ...said].sort((a, b) => a.atMs - b.atMs)
}

function ConsoleLine({ entry }: { entry: OutlineLine['console'][number] }) {
  return <span className={entry.level === 'error' ? 'text-failed' : ''}>console: {entry.text}</span>
}

function Request({ request: { method, url, status, ms } }: { request: OutlineLine['requests'][number] }) {
  const failed = status >= 400 || status === 0
  return (
    <>
      {method} {shortUrl(url)} <b className={failed ? 'text-failed' : ''}>{answerOf(status)}</b> {ms} ms
    </>
  )
}

/** 0: there was no answer; -1: this browser does not tell. */
function answerOf(status: number): string {
  if (status === -1) return 'answered'
  return status === 0 ? 'no answer' : String(status)
}

const shortUrl = (url: string) => url.replace(/^https?:\/\/[^/]+/, '')
