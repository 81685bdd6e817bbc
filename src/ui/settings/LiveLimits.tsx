'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { LIVE_LIMIT_MOST } from '@/core/live'
import type { SettingsViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { TextField } from '../base/fields'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { useFrame } from '../frame/tools'

const ALL = 'All pools together'
const isCount = (text: string) => /^\d{1,3}$/.test(text) && Number(text) <= LIVE_LIMIT_MOST

/** How many live sessions may go on at once: each holds a seat. */
export function LiveLimits({ liveLimits, pools }: Pick<SettingsViewModel, 'liveLimits' | 'pools'>) {
  const { may } = useFrame()
  const named = [...new Set([...pools, ...Object.keys(liveLimits.pools)])].sort()
  const [all, setAll] = useState(String(liveLimits.all))
  const [written, setWritten] = useState<Record<string, string>>(() =>
    Object.fromEntries(named.map((pool) => [pool, String(liveLimits.pools[pool] ?? '')])),
  )
  const { problem, setProblem, busy, ask } = useAsking(() =>
    toast('Kept. Sessions that go on are left alone'),
  )
  const of = (pool: string) => (written[pool] ?? '').trim()
  const keep = () => {
    const wrong = isCount(all.trim()) ? named.find((pool) => of(pool) !== '' && !isCount(of(pool))) : ALL
    if (wrong !== undefined)
      return setProblem(
        `${wrong}: “${wrong === ALL ? all : of(wrong)}” is no number from 0 to ${LIVE_LIMIT_MOST}.`,
      )
    const limited = named.filter((pool) => of(pool) !== '')
    void ask(() =>
      api('/api/live-limits', {
        method: 'PUT',
        body: {
          all: Number(all),
          pools: Object.fromEntries(limited.map((pool) => [pool, Number(of(pool))])),
        },
      }),
    )
  }
  const field = (name: string, value: string, write: (text: string) => void) => (
    <label key={name} className="flex items-center gap-2 py-1.5 text-sm">
      <span className="min-w-0 flex-1 truncate">{name}</span>
      <TextField
        inputMode="numeric"
        disabled={!may('admin')}
        width="w-24"
        className="text-right"
        placeholder="no limit"
        value={value}
        onChange={({ target }) => write(target.value)}
      />
      <span className="w-16 text-soft">sessions</span>
    </label>
  )
  return (
    <form aria-label="How many live sessions" className="max-w-[560px]" onSubmit={submitting(keep)}>
      <div className="divide-y divide-line border-y border-line">
        {field(ALL, all, setAll)}
        {named.map((pool) =>
          field(pool, written[pool] ?? '', (text) => setWritten({ ...written, [pool]: text })),
        )}
      </div>
      {problem && (
        <div className="mt-2">
          <Problem>{problem}</Problem>
        </div>
      )}
      {may('admin') ? (
        <div className="mt-3 flex justify-end">
          <Button look="main" type="submit" disabled={busy}>
            Keep so
          </Button>
        </div>
      ) : (
        <p className="mt-3 text-sm text-soft">An administrator sets this.</p>
      )}
    </form>
  )
}
