'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import type { ReleaseSheet } from '@/core/requirements'
import type { ReleaseDecision, SignedRelease } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { TextArea } from '../base/fields'
import { Problem } from '../base/Parts'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/tools'

/** Letting a build out, or keeping it, with a name under it. */
export function SignSheet({ sheet: { build, verdict }, seen }: { sheet: ReleaseSheet; seen: string }) {
  const { may, person } = useFrame()
  const [note, setNote] = useState('')
  const { problem, busy, ask } = useAsking(() => setNote(''))
  if (!may('coordinator')) return null
  const needsWord = verdict !== 'go'
  const sign = (decision: ReleaseDecision) =>
    ask(async () => {
      await api('/api/releases', { method: 'POST', body: { build, seen, decision, note } })
      toast(decision === 'goes' ? `${build} goes out, signed` : `${build} stays, signed`)
    })
  return (
    <section aria-label="Sign" className="mt-5 border-t border-line pt-3 print:hidden">
      <h3 className="label mb-2">Sign it</h3>
      <Field
        label="A word with it"
        hint={needsWord ? 'To let it out all the same, say why.' : `It is signed as ${person.name}.`}
      >
        <TextArea rows={2} value={note} maxLength={2000} onChange={({ target }) => setNote(target.value)} />
      </Field>
      <div className="mt-2 flex gap-2">
        <Button
          look={verdict === 'go' ? 'main' : 'plain'}
          disabled={busy || (needsWord && note.trim() === '')}
          onClick={() => void sign('goes')}
        >
          It goes out
        </Button>
        <Button
          look={verdict === 'stop' ? 'main' : 'plain'}
          disabled={busy}
          onClick={() => void sign('stays')}
        >
          It stays
        </Button>
      </div>
      {problem && (
        <div className="mt-2">
          <Problem>{problem}</Problem>
        </div>
      )}
    </section>
  )
}

/** What was signed of this build, the newest first. */
export function SignedSheets({ signed }: { signed: readonly SignedRelease[] }) {
  if (signed.length === 0) return null
  return (
    <section aria-label="Signed" className="mt-5 border-t border-line pt-3 text-sm">
      <h3 className="label mb-1">Signed</h3>
      <ul className="flex flex-col gap-2">
        {signed.map(({ id, decision, note, by, at, sha256 }) => (
          <li key={id}>
            <b className="font-semibold">{decision === 'goes' ? 'It goes out' : 'It stays'}</b>, {by},{' '}
            <Ago at={at} />
            {note !== '' && <span className="block">“{note}”</span>}
            <span className="block text-xs text-soft">
              <a className="underline hover:text-ink" href={`/api/releases/${id}`} download>
                Document
              </a>
              , its hash begins with <code className="font-mono">{sha256.slice(0, 12)}</code>
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
