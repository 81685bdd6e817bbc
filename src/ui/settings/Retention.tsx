'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { EVIDENCE_KINDS, KEEP_DAYS_MOST, type EvidenceKind } from '@/core/model'
import type { SettingsViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { useFrame } from '../frame/tools'
import { submitting } from '../base/submitting'
import { TextField } from '../base/fields'
import { Outlook } from './Outlook'

const WORDS: Record<EvidenceKind, string> = {
  screens: 'Screens and page sources',
  video: 'Video',
  console: 'What the console says',
  network: 'Requests',
}

/** Days of each kind. Shortening it deletes, so it says what it will take before it is kept. */
export function Retention({ retention }: Pick<SettingsViewModel, 'retention'>) {
  const { may } = useFrame()
  const [written, setWritten] = useState<Record<string, string>>(() =>
    Object.fromEntries(EVIDENCE_KINDS.map((kind) => [kind, String(retention[kind] ?? '')])),
  )
  const { problem, setProblem, busy, ask } = useAsking(() =>
    toast('Kept. What is older goes within the hour'),
  )
  const shorter = EVIDENCE_KINDS.filter(
    (kind) => Number(written[kind]) > 0 && Number(written[kind]) < (retention[kind] ?? Infinity),
  )
  const changed = EVIDENCE_KINDS.some((kind) => written[kind]!.trim() !== String(retention[kind] ?? ''))
  const keep = () => {
    const wrong = EVIDENCE_KINDS.find(
      (kind) =>
        written[kind]!.trim() !== '' &&
        !(
          /^\d{1,4}$/.test(written[kind]!.trim()) &&
          Number(written[kind]) >= 1 &&
          Number(written[kind]) <= KEEP_DAYS_MOST
        ),
    )
    if (wrong)
      return setProblem(
        `${WORDS[wrong]}: “${written[wrong]}” is no number of days from 1 to ${KEEP_DAYS_MOST}. Leave ` +
          'it empty to keep it for ever.',
      )
    void ask(() =>
      api('/api/retention', {
        method: 'PUT',
        body: Object.fromEntries(
          EVIDENCE_KINDS.flatMap((kind) =>
            written[kind]!.trim() === '' ? [] : [[kind, Number(written[kind])]],
          ),
        ),
      }),
    )
  }
  return (
    <>
      <form aria-label="How long evidence is kept" className="max-w-[560px]" onSubmit={submitting(keep)}>
        <div className="divide-y divide-line border-y border-line">
          {EVIDENCE_KINDS.map((kind) => (
            <label key={kind} className="flex items-center gap-2 py-1.5 text-sm">
              <span className="flex-1">{WORDS[kind]}</span>
              <TextField
                inputMode="numeric"
                disabled={!may('admin')}
                width="w-24"
                className="text-right"
                placeholder="for ever"
                value={written[kind]}
                onChange={({ target }) => setWritten({ ...written, [kind]: target.value })}
              />
              <span className="w-8 text-soft">days</span>
            </label>
          ))}
        </div>
        {shorter.length > 0 && changed && (
          <p className="mt-2 text-sm">
            Older {shorter.map((kind) => WORDS[kind].toLowerCase()).join(', ')} will be deleted within the
            hour, and cannot be brought back.
          </p>
        )}
        {problem && (
          <div className="mt-2">
            <Problem>{problem}</Problem>
          </div>
        )}
        {may('admin') ? (
          <div className="mt-3 flex justify-end">
            <Button look="main" type="submit" disabled={busy || !changed}>
              Keep so
            </Button>
          </div>
        ) : (
          <p className="mt-3 text-sm text-soft">An administrator sets this.</p>
        )}
      </form>
      <Outlook />
    </>
  )
}
