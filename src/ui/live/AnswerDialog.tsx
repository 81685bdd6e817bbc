'use client'
import { useState } from 'react'
import type { AskedDialog } from '@/core/live'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Field } from '../base/Field'
import { TextField } from '../base/fields'

const TITLES = {
  alert: 'The page says',
  confirm: 'The page asks',
  prompt: 'The page asks for a text',
  beforeunload: 'The page asks whether to leave it',
} as const

type Props = { asked: AskedDialog; onAnswer(answer: 'accept' | 'dismiss', text?: string): void }

/** A dialog of the steered browser, answered here: it is on no picture of the page. */
export function AnswerDialog({ asked: { kind, words, suggested }, onAnswer }: Props) {
  const [text, setText] = useState(suggested)
  const mayTakeText = kind === 'prompt' || kind === undefined
  const accept = () =>
    onAnswer('accept', ...(mayTakeText && (kind === 'prompt' || text !== '') ? [text] : []))
  return (
    <Dialog open onClose={() => onAnswer('dismiss')} title={TITLES[kind ?? 'confirm']}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          accept()
        }}
      >
        <p className="mb-3 text-sm whitespace-pre-wrap">
          {words || (kind === 'beforeunload' ? 'What was entered may be lost.' : 'It says nothing.')}
        </p>
        {mayTakeText && (
          <Field label={kind === 'prompt' ? 'Text' : 'Text, where it asks for one'}>
            <TextField value={text} onChange={({ target }) => setText(target.value)} />
          </Field>
        )}
        <div className="mt-4 flex gap-2">
          <Button look="main" type="submit">
            {kind === 'beforeunload' ? 'Leave' : 'OK'}
          </Button>
          {kind !== 'alert' && (
            <Button type="button" onClick={() => onAnswer('dismiss')}>
              {kind === 'beforeunload' ? 'Stay' : 'Cancel'}
            </Button>
          )}
        </div>
      </form>
    </Dialog>
  )
}
