'use client'
import { MonitorPlay } from 'lucide-react'
import { useState } from 'react'
import type { OutlineLine } from '@/core/execution'
import type { AttemptViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { RehearseDialog } from '../edit/later'
import { useKeys } from '../frame/keys'
import { useFrame } from '../frame/tools'

/** Opens a browser of the same environment, build and row, and brings it to just before this step. */
export function TakeMeThere({
  attempt,
  line,
}: {
  attempt: Pick<AttemptViewModel, 'title' | 'caseKey' | 'environment' | 'build' | 'row' | 'role'>
  line: Pick<OutlineLine, 'path'>
}) {
  const { may } = useFrame()
  const [asking, setAsking] = useState(false)
  const isOff = !may('tester') || attempt.role !== '' || !line.path.startsWith('main.')
  useKeys([
    { key: 't', what: 'open a browser just before this step', off: isOff, run: () => setAsking(true) },
  ])
  if (isOff) return null
  const { title, caseKey, environment, build, row } = attempt
  return (
    <>
      <Button look="quiet" className="!h-7 !px-2" keyHint="t" onClick={() => setAsking(true)}>
        <MonitorPlay size={14} aria-hidden /> Take me there
      </Button>
      {asking && (
        <RehearseDialog
          what={{
            title,
            cases: [caseKey],
            live: true,
            rows: row?.of ?? 0,
            usual: { environment: environment.key, build, ...(row && { row: row.index }) },
            before: line.path,
          }}
          onClose={() => setAsking(false)}
        />
      )}
    </>
  )
}
