'use client'
import { useRouter } from '../base/opening'
import { useState } from 'react'
import { toast } from 'sonner'
import { plural } from '@/core/view-models'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Field } from '../base/Field'
import { TextField } from '../base/fields'
import { Problem } from '../base/Parts'
import { useFrame } from '../frame/tools'
import { sendResults } from './result-file'

/** Where result files of other tools may be dropped: anywhere on the view. */
export function ResultDrop({ children }: { children: React.ReactNode }) {
  const { may } = useFrame()
  const [over, setOver] = useState(false)
  const [file, setFile] = useState<File>()
  const isFiles = (event: React.DragEvent) => event.dataTransfer.types.includes('Files') && may('tester')
  return (
    <div
      className="relative flex min-h-0 flex-1 flex-col"
      onDragOver={(event) => isFiles(event) && (event.preventDefault(), setOver(true))}
      onDragLeave={(event) => event.currentTarget === event.target && setOver(false)}
      onDrop={(event) => {
        if (!isFiles(event)) return
        event.preventDefault()
        setOver(false)
        setFile(event.dataTransfer.files[0])
      }}
    >
      {children}
      {over && (
        <div
          className={
            'pointer-events-none absolute inset-3 z-40 grid place-items-center rounded-oak border-2 ' +
            'border-dashed border-act bg-act-wash/90 font-display text-lg'
          }
        >
          Drop a result file: JUnit XML or TAP
        </div>
      )}
      {file && <TakeIn file={file} onClose={() => setFile(undefined)} />}
    </div>
  )
}

/** Asks of which build a file is before it becomes a run: what is decided of its failures stands for that
 * build. */
function TakeIn({ file, onClose }: { file: File; onClose(): void }) {
  const router = useRouter()
  const [build, setBuild] = useState('')
  const { problem, busy, ask } = useAsking(onClose)
  const take = () =>
    ask(async () => {
      const { address, summary } = await sendResults(file, build.trim())
      const taken = `${file.name}: ${plural(summary.cases, 'case')} taken in`
      const { length } = summary.problems
      toast(length > 0 ? `${taken}, ${plural(length, 'problem')}` : taken)
      router.push(address)
    })
  return (
    <Dialog open onClose={onClose} title={`Take in ${file.name}`}>
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          void take()
        }}
      >
        <Field
          label="Build that it is of"
          hint="Leave it empty if nobody knows: what is decided of its failures stands for no build then."
        >
          <TextField
            autoFocus
            placeholder="2026.11.4"
            maxLength={100}
            value={build}
            onChange={({ target }) => setBuild(target.value)}
          />
        </Field>
        {problem && <Problem>{problem}</Problem>}
        <div className="flex gap-2">
          <Button look="main" type="submit" disabled={busy}>
            Take in
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  )
}
