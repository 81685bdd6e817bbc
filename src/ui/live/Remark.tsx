'use client'
import { NotebookPen } from 'lucide-react'
import { useState } from 'react'
import { toast } from 'sonner'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Field } from '../base/Field'
import { TextArea } from '../base/fields'
import { useKeys } from '../frame/keys'
import type { Order } from './useLiveLine'

type Props = {
  /** Nobody would hear it, or this person may not. */
  disabled: boolean
  say(order: Order): void
}

/** What somebody notices at this moment: into the log, with the screen, and maybe as what is wrong. */
export function Remark({ disabled, say }: Props) {
  const [open, setOpen] = useState(false)
  const [text, setText] = useState('')
  const begin = () => setOpen(true)
  useKeys([{ key: 'w', what: 'write down what you notice', off: disabled, run: begin }])
  const keep = (wrong: boolean) => {
    say({ do: 'remark', text: text.trim(), wrong })
    toast(wrong ? 'It stands in the log as a failure' : 'It stands in the log, with the screen')
    setText('')
    setOpen(false)
  }
  const isEmpty = text.trim() === ''
  return (
    <>
      <Button look="quiet" keyHint="w" disabled={disabled} onClick={begin}>
        <NotebookPen size={14} aria-hidden /> Note
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} title="What you notice">
        <Field
          label="In words"
          hint="It stands in the log with the screen as it is now, and your name. From what is wrong a defect is drafted there."
        >
          <TextArea
            rows={4}
            autoFocus
            maxLength={2000}
            value={text}
            onChange={({ target }) => setText(target.value)}
          />
        </Field>
        <div className="mt-4 flex justify-end gap-2">
          <Button disabled={isEmpty} onClick={() => keep(true)}>
            Something is wrong
          </Button>
          <Button look="main" disabled={isEmpty} onClick={() => keep(false)}>
            Keep the note
          </Button>
        </div>
      </Dialog>
    </>
  )
}
