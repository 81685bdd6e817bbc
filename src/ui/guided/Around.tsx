'use client'
import { ExternalLink } from 'lucide-react'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { evidenceUrl } from '../base/evidence'
import { TextField } from '../base/fields'
import type { GuidedSheetViewModel } from '@/core/view-models'
import { AgentBrowser } from './AgentBrowser'
import type { Sheet } from './useSheet'

type Props = { given: GuidedSheetViewModel; sheet: Sheet; disabled: boolean }
const FACTS = [
  ['device', 'Device'],
  ['system', 'System'],
  ['browser', 'Browser'],
] as const

/** What the case is done with: where its applications are, the values of its row, the system. */
export function Around({ given, sheet: { state, act, facts, setFacts }, disabled }: Props) {
  const { addresses, row } = given
  return (
    <aside className="flex min-h-0 flex-col gap-5 overflow-auto border-l border-line bg-surface px-4 py-4 text-sm">
      <AgentBrowser given={given} disabled={disabled} />
      {Object.keys(addresses).length > 0 && (
        <section>
          <h2 className="label mb-1">Where</h2>
          <ul className="flex flex-col gap-1">
            {Object.entries(addresses).map(([key, address]) => (
              <li key={key}>
                <a
                  href={address}
                  target="_blank"
                  rel="noreferrer"
                  className="inline-flex items-center gap-1 underline"
                >
                  {key} <ExternalLink size={12} aria-hidden />
                  <span className="sr-only">opens another window</span>
                </a>
              </li>
            ))}
          </ul>
        </section>
      )}
      {row && (
        <section>
          <h2 className="label mb-1">Values</h2>
          <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
            {Object.entries(row).map(([name, value]) => (
              <div key={name} className="contents">
                <dt className="text-soft">{name}</dt>
                <dd className="min-w-0 font-mono text-xs leading-5 break-words">{value}</dd>
              </div>
            ))}
          </dl>
        </section>
      )}
      {state.video && (
        <KeptVideo
          hash={state.video.hash}
          onDrop={disabled ? undefined : () => act({ do: 'keep-video', video: null })}
        />
      )}
      <section className="flex flex-col gap-2">
        <h2 className="label">Done on</h2>
        {FACTS.map(([name, label]) => (
          <Field key={name} label={label}>
            <TextField
              value={facts[name] ?? ''}
              maxLength={300}
              disabled={disabled}
              onChange={({ target }) => setFacts({ ...facts, [name]: target.value })}
            />
          </Field>
        ))}
      </section>
    </aside>
  )
}

function KeptVideo({ hash, onDrop }: { hash: string; onDrop: (() => void) | undefined }) {
  return (
    <section>
      <h2 className="label mb-1">Video</h2>
      <video
        controls
        muted
        preload="metadata"
        src={evidenceUrl(hash)}
        aria-label="Video of this case"
        className="w-full border border-line bg-black"
      />
      {onDrop && (
        <Button look="quiet" className="mt-1" onClick={onDrop}>
          Take it away
        </Button>
      )}
    </section>
  )
}
