'use client'
import { TabList, TabPanel, Tabs } from '../base/Tabs'
import { useState } from 'react'
import { toast } from 'sonner'
import { api, type ApiProblem } from '../api'
import { useFrame } from '../frame/tools'
import { snippets } from './words'

/** How another program starts this rotation, ready to be copied. */
export function Snippets({ rotation, server }: { rotation: string; server: string }) {
  const all = snippets(rotation, server)
  const [open, setOpen] = useState(0)
  const [secret, setSecret] = useState<string>()
  const { may } = useFrame()
  const make = () =>
    api<{ secret: string }>(`/api/rotations/${rotation}/webhook`, { method: 'PUT' })
      .then((answer) => setSecret(answer.secret))
      .catch((error: ApiProblem) => toast.error(error.message))
  return (
    <details className="text-sm">
      <summary className="text-soft">
        Started by another program: <code className="font-mono text-xs text-ink">./oak run {rotation}</code>
      </summary>
      <div className="mt-2 rounded-oak border border-line bg-surface">
        <Tabs value={String(open)} onChange={(next) => setOpen(Number(next))}>
          <TabList
            label="Snippets"
            look="wash"
            className="border-b border-line px-2 py-1"
            tabs={all.map(({ name }, i) => ({ key: String(i), label: name }))}
          >
            <button
              type="button"
              className="ml-auto text-act underline"
              onClick={() => void navigator.clipboard.writeText(all[open]!.text).then(() => toast('Copied'))}
            >
              Copy
            </button>
          </TabList>
          {may('coordinator') && (
            <p className="border-b border-line px-3 py-1.5 text-soft">
              Or a message signed as Standard Webhooks says, to{' '}
              <code className="font-mono text-xs">/api/rotations/{rotation}/webhook</code>.{' '}
              {secret ? (
                <>
                  It is signed with <code className="font-mono text-xs break-all text-ink">{secret}</code>,
                  shown only now.
                </>
              ) : (
                <button type="button" className="text-act underline" onClick={() => void make()}>
                  Make its secret
                </button>
              )}
            </p>
          )}
          <TabPanel value={String(open)} className="overflow-auto">
            <pre className="p-3 font-mono text-xs leading-[17px]">{all[open]!.text}</pre>
          </TabPanel>
        </Tabs>
      </div>
    </details>
  )
}
