'use client'
import { useQueryClient } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { toast } from 'sonner'
import type { SharedRunLine } from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { Select, TextField } from '../base/fields'
import { Ago, exact } from '../base/Time'
import { useFrame } from '../frame/tools'

const DAYS = [1, 7, 30] as const

/** Addresses at which a run is read without signing in: made, copied, revoked. */
export function Shared({ runId }: { runId: number }) {
  const { may } = useFrame()
  const title = useId()
  const [days, setDays] = useState<number>(7)
  const [made, setMade] = useState<string>()
  const path = `/api/runs/${runId}/shared`
  const { data } = useViewModel<SharedRunLine[]>(path, [])
  const lines = data ?? []
  const client = useQueryClient()
  const readAgain = () => client.invalidateQueries({ queryKey: [path] })
  const { problem, ask } = useAsking()
  const make = async () => {
    const { path: address } = await api<{ path: string }>(path, { method: 'POST', body: { days } })
    setMade(new URL(address, window.location.href).href)
    await readAgain()
  }
  const revoke = async (id: string) => {
    await api(`${path}/${id}`, { method: 'DELETE' })
    setMade(undefined)
    toast('The address is revoked')
    await readAgain()
  }
  const copy = async () => {
    await navigator.clipboard.writeText(made!)
    toast('The address is copied')
  }
  const change = may('coordinator')
  return (
    <section aria-labelledby={title} className="mt-5 border-t border-line pt-4">
      <h3 id={title} className="font-semibold">
        An address for somebody without a sign-in
      </h3>
      <p className="mt-1 text-sm text-soft">
        It shows this report as it is then, and leads nowhere else. Whoever has it can read it until it ends
        or is revoked.
      </p>
      {lines.length > 0 && (
        <ul className="mt-3 grid gap-1 text-sm">
          {lines.map((line) => (
            <li key={line.id} className="flex items-center justify-between gap-3">
              <span>
                By {line.createdBy}, until {exact(line.endsAt)}
                <span className="text-soft">
                  {line.usedAt ? (
                    <>
                      , read <Ago at={line.usedAt} />
                    </>
                  ) : (
                    ', not read yet'
                  )}
                </span>
              </span>
              {change && (
                <Button look="quiet" className="!h-6 !px-2" onClick={() => void ask(() => revoke(line.id))}>
                  Revoke
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
      {change && !made && (
        <div className="mt-3 flex items-center gap-2">
          <Select
            aria-label="How long"
            width="w-32"
            value={String(days)}
            onChoose={(value) => setDays(Number(value))}
          >
            {DAYS.map((count) => (
              <option key={count} value={count}>
                {count === 1 ? 'for a day' : `for ${count} days`}
              </option>
            ))}
          </Select>
          <Button disabled={!data} onClick={() => void ask(make)}>
            Make an address
          </Button>
        </div>
      )}
      {made && (
        <div className="mt-3">
          <div className="flex items-center gap-2">
            <TextField
              aria-label="The address"
              mono
              readOnly
              value={made}
              onFocus={(event) => event.target.select()}
            />
            <Button onClick={() => void ask(copy)}>Copy</Button>
          </div>
          <p className="mt-1 text-xs text-soft">It is shown this once.</p>
        </div>
      )}
      {!change && <p className="mt-2 text-sm text-soft">A coordinator makes and revokes them.</p>}
      {problem && (
        <div className="mt-2">
          <Problem>{problem}</Problem>
        </div>
      )}
    </section>
  )
}
