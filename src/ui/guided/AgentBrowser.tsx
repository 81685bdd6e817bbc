'use client'
import { MonitorPlay } from 'lucide-react'
import { useState } from 'react'
import type { GuidedSheetViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { RehearseDialog } from '../edit/later'
import { useKeys } from '../frame/keys'

/** Has a browser of an agent carry out what is not for people: what it does is said on the sheet. */
export function AgentBrowser({ given, disabled }: { given: GuidedSheetViewModel; disabled: boolean }) {
  const [asking, setAsking] = useState(false)
  const { id, title, caseKey, environment, build, rowAt } = given
  useKeys([{ key: 'b', what: 'a browser of an agent for it', off: disabled, run: () => setAsking(true) }])
  return (
    <section>
      <h2 className="label mb-1">In a browser of an agent</h2>
      <p className="mb-2 text-soft">
        It carries out what a machine can, and you judge. Both are said on this sheet.
      </p>
      <Button keyHint="b" disabled={disabled} onClick={() => setAsking(true)}>
        <MonitorPlay size={14} aria-hidden /> Open one
      </Button>
      {asking && (
        <RehearseDialog
          what={{
            title,
            cases: [caseKey],
            live: true,
            guided: id,
            rows: rowAt?.of ?? 0,
            usual: { environment: environment.key, build, ...(rowAt && { row: rowAt.index }) },
          }}
          onClose={() => setAsking(false)}
        />
      )}
    </section>
  )
}
