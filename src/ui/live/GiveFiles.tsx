'use client'
import { useState } from 'react'
import { FILE_TEXT_MOST, type UploadFile } from '@/core/model'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'

const FILES_MOST = 20

/** The page asks for files: of this machine. They go to the agent, and into the step as they are. */
export function GiveFiles({ several, onGive }: { several: boolean; onGive(files: UploadFile[]): void }) {
  const [problem, setProblem] = useState<string>()
  const give = async (chosen: FileList | null) => {
    const files = await Promise.all([...(chosen ?? [])].slice(0, FILES_MOST).map(uploadOf))
    if (files.length === 0) return
    const large = files.find(({ text }) => text.length > FILE_TEXT_MOST)
    if (!large) return onGive(files)
    const most = large.encoding ? 'about 300 kB of a picture and the like' : '400,000 characters'
    setProblem(`“${large.name}” is too large for a step, which holds ${most}.`)
  }
  return (
    <Dialog
      open
      onClose={() => onGive([])}
      title={several ? 'The page asks for files' : 'The page asks for a file'}
    >
      <p className="mb-3 text-sm">
        It is given to the page, and stands in the recorded step as it is: no secrets, and at most 400 kB.
      </p>
      <input
        type="file"
        multiple={several}
        aria-label="File to give"
        className="mb-3 block text-sm"
        onChange={({ target }) => void give(target.files)}
      />
      {problem && <Problem>{problem}</Problem>}
      <Button onClick={() => onGive([])}>Give none</Button>
    </Dialog>
  )
}

/** As its text where it is one, which a person can read in the step. One that is larger than a step holds is
 * not read to its end. */
async function uploadOf(file: File): Promise<UploadFile> {
  const { name } = file
  const bytes = new Uint8Array(await file.slice(0, FILE_TEXT_MOST + 1).arrayBuffer())
  try {
    const text = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(bytes)
    if (!text.includes('\0')) return { name, text }
  } catch {
    // it is no text
  }
  return { name, text: base64Of(bytes), encoding: 'base64' }
}

function base64Of(bytes: Uint8Array): string {
  let signs = ''
  for (const byte of bytes) signs += String.fromCharCode(byte)
  return btoa(signs)
}
