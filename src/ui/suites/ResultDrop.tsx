'use client'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { toast } from 'sonner'
import { plural } from '@/core/view-models'
import { Dialog } from '../base/Dialog'
import { useFrame } from '../frame/tools'

type Answer = {
  run: number
  address: string
  summary: { cases: number; outcomes: Record<string, number>; problems: { line: number; what: string }[] }
}

/** Sends a result file as it is; a refusal says the line. @param build that it is of; empty: nobody knows */
export async function sendResults(file: File, build = ''): Promise<Answer | string> {
  const query = new URLSearchParams({ name: file.name, ...(build !== '' && { build }) })
  const response = await fetch(`/api/results?${query}`, {
    method: 'POST',
    body: file,
    headers: { 'content-type': 'application/octet-stream' },
  }).catch(() => undefined)
  if (!response) return 'The server does not answer. Nothing was taken in.'
  const answer = (await response.json()) as Answer | { message: string; detail?: { line?: number } }
  if ('run' in answer) return answer
  return answer.detail?.line === undefined
    ? answer.message
    : `${file.name}, line ${answer.detail.line}: ${answer.message}. Nothing was taken in.`
}

/** Where result files of other tools may be dropped: anywhere on the view. */
export function ResultDrop({ children }: { children: React.ReactNode }) {
  const router = useRouter()
  const { may } = useFrame()
  const [over, setOver] = useState(false)
  const [refused, setRefused] = useState<string>()
  const isFiles = (event: React.DragEvent) => event.dataTransfer.types.includes('Files') && may('tester')
  const take = async (file: File) => {
    const answer = await sendResults(file)
    if (typeof answer === 'string') return setRefused(answer)
    toast(
      `${file.name}: ${plural(answer.summary.cases, 'case')} taken ` +
        `in${answer.summary.problems.length > 0 ? `, ${plural(answer.summary.problems.length, 'problem')}` : ''}`,
    )
    router.push(answer.address)
  }
  return (
    <div
      className="relative flex min-h-0 flex-1 flex-col"
      onDragOver={(event) => isFiles(event) && (event.preventDefault(), setOver(true))}
      onDragLeave={(event) => event.currentTarget === event.target && setOver(false)}
      onDrop={(event) => {
        if (!isFiles(event)) return
        event.preventDefault()
        setOver(false)
        const [file] = event.dataTransfer.files
        if (file) void take(file)
      }}
    >
      {children}
      {over && (
        <div className="pointer-events-none absolute inset-3 z-40 grid place-items-center rounded-oak border-2 border-dashed border-act bg-act-wash/90 font-display text-lg">
          Drop a result file: JUnit XML or TAP
        </div>
      )}
      <Dialog
        open={refused !== undefined}
        onClose={() => setRefused(undefined)}
        title="The file was not taken in"
      >
        <p>{refused}</p>
      </Dialog>
    </div>
  )
}
