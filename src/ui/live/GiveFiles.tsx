'use client'
import { useState } from 'react'
import type { UploadFile } from '@/core/model'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'

/** Of one file, and of all: they go to the agent as text, and into the step as they are. */
const BYTES_MOST = 1_000_000
const FILES_MOST = 20

/** The page asks for files: of this machine, as texts. */
export function GiveFiles({ several, onGive }: { several: boolean; onGive(files: UploadFile[]): void }) {
  const [problem, setProblem] = useState<string>()
  const read = async (chosen: FileList | null) => {
    const files = [...(chosen ?? [])].slice(0, FILES_MOST)
    if (files.length === 0) return
    if (files.reduce((sum, { size }) => sum + size, 0) > BYTES_MOST)
      return setProblem('These are more than 1 MB: a step holds its file as text.')
    onGive(await Promise.all(files.map(async (file) => ({ name: file.name, text: await file.text() }))))
  }
  return (
    <Dialog
      open
      onClose={() => onGive([])}
      title={several ? 'The page asks for files' : 'The page asks for a file'}
    >
      <p className="mb-3 text-sm">
        It is read as text, given to the page, and stands in the recorded step as it is: no secrets, and at
        most 1 MB.
      </p>
      <input
        type="file"
        multiple={several}
        aria-label="File to give"
        className="mb-3 block text-sm"
        onChange={({ target }) => void read(target.files)}
      />
      {problem && <Problem>{problem}</Problem>}
      <Button onClick={() => onGive([])}>Give none</Button>
    </Dialog>
  )
}
