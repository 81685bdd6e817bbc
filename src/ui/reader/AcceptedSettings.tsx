'use client'
import { useState } from 'react'
import type { Box } from '@/core/execution'
import type { AcceptedLine } from '@/core/view-models'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Field } from '../base/Field'
import { TextField } from '../base/fields'
import { submitting } from '../base/submitting'
import { DrawBox } from './DrawBox'

const NO_BOX: Box = { x: 0, y: 0, w: 0, h: 0 }

/** What of an accepted screen is not looked at, and how much of it may differ. */
export function AcceptedSettings({
  line,
  mayChange,
  onChange,
}: {
  line: AcceptedLine
  mayChange: boolean
  onChange(change: { ignore?: Box[]; most?: number }): Promise<void>
}) {
  const [isDrawing, setDrawing] = useState(false)
  const [percent, setPercent] = useState(String(Number((line.most * 100).toFixed(2))))
  const share = Number(percent) / 100
  const isShare = percent.trim() !== '' && share >= 0 && share <= 1
  return (
    <form
      aria-label="How it is compared"
      className="mt-3 flex flex-wrap items-end gap-3"
      onSubmit={submitting(() => onChange({ most: share }))}
    >
      <Field label="May differ, % of the picture" error={isShare ? undefined : 'From 0 to 100'}>
        <TextField
          width="w-24"
          inputMode="decimal"
          value={percent}
          disabled={!mayChange}
          onChange={({ target }) => setPercent(target.value)}
        />
      </Field>
      {mayChange && isShare && share !== Number(line.most.toFixed(4)) && <Button type="submit">Save</Button>}
      <Button onClick={() => setDrawing(true)}>
        {line.ignore.length === 0 ? 'Leave parts out' : `${line.ignore.length} left out`}
      </Button>
      <Dialog
        open={isDrawing}
        onClose={() => setDrawing(false)}
        title="Parts that are not looked at"
        wide="widest"
      >
        <Parts
          line={line}
          mayChange={mayChange}
          onSave={(ignore) => void onChange({ ignore }).then(() => setDrawing(false))}
        />
      </Dialog>
    </form>
  )
}

function Parts({
  line,
  mayChange,
  onSave,
}: {
  line: AcceptedLine
  mayChange: boolean
  onSave(ignore: Box[]): void
}) {
  const [boxes, setBoxes] = useState(line.ignore)
  const [box, setBox] = useState(NO_BOX)
  const isDrawn = box.w > 0 && box.h > 0
  return (
    <>
      <DrawBox screen={line} box={box} onBox={setBox} label="The accepted screen" also={boxes} />
      <ul className="mt-3 space-y-1 text-sm">
        {boxes.map(({ x, y, w, h }, i) => (
          <li key={i} className="flex items-center gap-3">
            <span className="font-mono text-xs">
              {w} x {h} at {x}, {y}
            </span>
            {mayChange && (
              <Button
                look="quiet"
                className="!h-6 !px-1.5"
                onClick={() => setBoxes(boxes.filter((_, other) => other !== i))}
              >
                Look there again
              </Button>
            )}
          </li>
        ))}
      </ul>
      {mayChange && (
        <div className="mt-3 flex gap-2">
          <Button
            disabled={!isDrawn}
            onClick={() => {
              setBoxes([...boxes, box])
              setBox(NO_BOX)
            }}
          >
            Leave the drawn part out
          </Button>
          <Button look="main" onClick={() => onSave(isDrawn ? [...boxes, box] : boxes)}>
            Save
          </Button>
        </div>
      )}
    </>
  )
}
