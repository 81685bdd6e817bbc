'use client'
import { Crop } from 'lucide-react'
import { useState } from 'react'
import { toast } from 'sonner'
import type { Box, OutlineLine, Screen } from '@/core/execution'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Field } from '../base/Field'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { TextField } from '../base/fields'
import { DrawBox } from './DrawBox'

const SIDES = [
  ['x', 'Left'],
  ['y', 'Top'],
  ['w', 'Width'],
  ['h', 'Height'],
] as const

/** Cuts a part out of a screen, for targets that are looked for by it. */
export function CutOut({ screen, proposed }: { screen: Screen; proposed: OutlineLine['box'] }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button look="quiet" className="!h-7 !px-2" onClick={() => setOpen(true)}>
        <Crop size={14} aria-hidden /> Cut out a picture
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} title="Cut out a picture" wide="widest">
        <CutOutForm screen={screen} proposed={proposed} onDone={() => setOpen(false)} />
      </Dialog>
    </>
  )
}

type FormProps = { screen: Screen; proposed: OutlineLine['box']; onDone(): void }
function CutOutForm({ screen, proposed, onDone }: FormProps) {
  const [box, setBox] = useState<Box>(proposed ?? { x: 0, y: 0, w: 0, h: 0 })
  const [name, setName] = useState('')
  const { problem, ask } = useAsking()
  const save = async () => {
    await api(`/api/pictures/${encodeURIComponent(name.trim())}`, {
      method: 'PUT',
      body: { screen: screen.hash, box },
    })
    toast(`${name.trim()} is kept: a target finds it by “picture: ${name.trim()}”`)
    onDone()
  }
  return (
    <form aria-label="Cut out a picture" onSubmit={submitting(() => ask(save))}>
      <p className="mb-2 text-sm text-soft">
        Draw around what a step is to find: with little of what is around it, and nothing in it that changes.
      </p>
      <DrawBox screen={screen} box={box} onBox={setBox} label="The screen to cut out of" />
      <div className="mt-3 flex flex-wrap items-end gap-2">
        {SIDES.map(([side, label]) => (
          <Field key={side} label={label}>
            <TextField
              type="number"
              min={0}
              width="w-20"
              value={box[side]}
              onChange={({ target }) =>
                setBox({ ...box, [side]: Math.max(0, Math.round(Number(target.value))) })
              }
            />
          </Field>
        ))}
        <Field label="Name">
          <TextField
            mono
            value={name}
            placeholder="deck-plan"
            onChange={({ target }) => setName(target.value)}
          />
        </Field>
        <Button look="main" type="submit" disabled={name.trim() === '' || box.w === 0 || box.h === 0}>
          Keep
        </Button>
      </div>
      {problem && (
        <div className="mt-2">
          <Problem>{problem}</Problem>
        </div>
      )}
    </form>
  )
}
