'use client'
import { useState } from 'react'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'

/** The secret that the tracker signs its messages with: made anew, and shown once. */
export function TrackerSecret() {
  const [secret, setSecret] = useState<string>()
  const { problem, busy, ask } = useAsking()
  const make = async () => {
    const made = await api<{ secret: string }>('/api/delivery/tracker/secret', { method: 'POST' })
    setSecret(made.secret)
  }
  return (
    <section
      aria-label="When something changes there"
      className="rounded-oak border border-line bg-surface p-3 text-sm"
    >
      <h3 className="mb-1 font-semibold">When something changes there</h3>
      <p>
        The tracker may tell where a defect stands at once, at <code>/api/tracker-messages</code>, in messages
        signed as Standard Webhooks says. Without that it is asked about once a minute.
      </p>
      {secret !== undefined && (
        <p className="mt-2" role="status">
          The secret, shown this once: <code className="select-all">{secret}</code>
        </p>
      )}
      {problem && <Problem>{problem}</Problem>}
      <Button className="mt-2" disabled={busy} onClick={() => void ask(make)}>
        {secret === undefined ? 'Make a secret' : 'Make another one'}
      </Button>
    </section>
  )
}
