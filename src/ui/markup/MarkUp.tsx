'use client'
import type Konva from 'konva'
import { Redo2, Undo2 } from 'lucide-react'
import dynamic from 'next/dynamic'
import { useEffect, useReducer, useRef, useState } from 'react'
import type { Box } from '@/core/execution'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { Problem } from '../base/Parts'
import { evidenceUrl, whyUnreadable } from '../base/evidence'
import { OneOf } from '../base/ToggleGroup'
import { TextField } from '../base/fields'
import { pngOf } from './keep'
import { MarkList } from './MarkList'
import { changeMarks, noMarks, type MarkAction, type Marks, type Tool } from './marks'

const MarkCanvas = dynamic(() => import('./MarkCanvas'), { ssr: false })

const TOOLS = [
  ['arrow', 'Arrow'],
  ['box', 'Box'],
  ['blur', 'Blur'],
  ['pin', 'Pin'],
  ['text', 'Text'],
  ['crop', 'Crop'],
] as const satisfies readonly (readonly [Tool, string])[]
const ZOOMS = [
  ['fit', 'Fit'],
  ['1', '100 %'],
  ['2', '200 %'],
] as const
type Zoom = (typeof ZOOMS)[number][0]
/** What the picture has in the dialog, in pixels. */
const ROOM = { width: 780, height: 460 }

type Props = {
  screen: { hash: string; width: number; height: number }
  /** Where a mark set by keys begins: the element the step was about. */
  about: Box | undefined
  /** What keeping it is called. */
  keepLabel: string
  /** Keeps what was drawn. @param bytes PNG in base64 */
  onKeep(bytes: string, note: string): Promise<void>
}

/** Marks a picture up: what is kept is a new picture. */
export function MarkUp({ screen, ...rest }: Props) {
  const picture = usePicture(screen.hash)
  if (typeof picture === 'string') return <Problem>{picture}</Problem>
  if (!picture) return <p className="p-6 text-sm text-soft">Reading the screen.</p>
  return <MarkUpForm picture={picture} {...rest} />
}

function MarkUpForm({
  picture,
  about,
  keepLabel,
  onKeep,
}: Omit<Props, 'screen'> & { picture: HTMLImageElement }) {
  const [marks, dispatch] = useReducer(changeMarks, noMarks(picture.naturalWidth, picture.naturalHeight))
  const [tool, setTool] = useState<Tool>('box')
  const [zoom, setZoom] = useState<Zoom>('fit')
  const [note, setNote] = useState('')
  const stage = useRef<Konva.Stage>(null)
  const { problem, busy, ask } = useAsking()
  const isBare = marks.marks.length === 0 && marks.crop === null
  const keep = async () => onKeep(await pngOf(stage.current!, marks), note.trim())
  return (
    <div>
      <div className="mb-2 flex flex-wrap items-center gap-3">
        <OneOf label="Draw" value={tool} choices={TOOLS} onChoose={setTool} />
        <Button look="quiet" disabled={marks.past.length === 0} onClick={() => dispatch({ do: 'undo' })}>
          <Undo2 size={14} aria-hidden /> Undo
        </Button>
        <Button look="quiet" disabled={marks.future.length === 0} onClick={() => dispatch({ do: 'redo' })}>
          <Redo2 size={14} aria-hidden /> Redo
        </Button>
        {marks.crop && (
          <Button look="quiet" onClick={() => dispatch({ do: 'whole' })}>
            The whole picture
          </Button>
        )}
        <span className="ml-auto">
          <OneOf label="Size" value={zoom} choices={ZOOMS} onChoose={setZoom} />
        </span>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)_220px] gap-3">
        {/* it is drawn on by keys, too: the element that has them is the picture */}
        <div
          role="application"
          tabIndex={0}
          aria-label="The screen to mark up. Enter sets a mark, arrow keys move it, with Alt they draw it out, Delete takes it away"
          className="max-h-[480px] cursor-crosshair touch-none overflow-auto border border-line bg-ground"
          onKeyDown={(event) => onKey(event, marks, tool, about, dispatch)}
        >
          <MarkCanvas {...{ picture, marks, tool, dispatch, stage }} zoom={zoomOf(zoom, picture)} />
        </div>
        <MarkList marks={marks} dispatch={dispatch} />
      </div>
      {problem && (
        <div className="mt-2">
          <Problem>{problem}</Problem>
        </div>
      )}
      <div className="mt-3 flex items-end gap-2">
        <Field label="What it shows" className="flex-1">
          <TextField
            value={note}
            maxLength={300}
            placeholder="The fare is cut off"
            onChange={({ target }) => setNote(target.value)}
          />
        </Field>
        <Button
          look="main"
          disabled={busy || isBare}
          hint={isBare ? 'Draw something, or crop the picture' : undefined}
          onClick={() => void ask(keep)}
        >
          {keepLabel}
        </Button>
      </div>
    </div>
  )
}

const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}

function onKey(
  event: React.KeyboardEvent,
  marks: Marks,
  tool: Tool,
  about: Box | undefined,
  dispatch: (action: MarkAction) => void,
) {
  const { selected } = marks
  const step = STEPS[event.key]
  const isCommand = event.ctrlKey || event.metaKey
  const action = (): MarkAction | undefined => {
    if (isCommand && event.key === 'z') return { do: event.shiftKey ? 'redo' : 'undo' }
    if (event.key === 'Enter') return { do: 'draw', tool, ...placeOf(marks, about) }
    if (selected === null) return undefined
    if (event.key === 'Delete' || event.key === 'Backspace') return { do: 'remove', id: selected }
    if (!step) return undefined
    const far = event.shiftKey ? 10 : 1
    const by = { x: step[0] * far, y: step[1] * far }
    return { do: event.altKey ? 'reach' : 'move', id: selected, by }
  }
  const wanted = action()
  if (!wanted) return
  event.preventDefault()
  event.stopPropagation()
  dispatch(wanted)
}

/** Around what the step was about, else the middle. */
function placeOf({ width, height }: Marks, about: Box | undefined) {
  const box = about ?? { x: width / 3, y: height / 3, w: width / 3, h: height / 3 }
  return { from: { x: box.x, y: box.y }, to: { x: box.x + box.w, y: box.y + box.h } }
}

const zoomOf = (zoom: Zoom, { naturalWidth, naturalHeight }: HTMLImageElement): number =>
  zoom === 'fit' ? Math.min(1, ROOM.width / naturalWidth, ROOM.height / naturalHeight) : Number(zoom)

function usePicture(hash: string): HTMLImageElement | string | undefined {
  const [picture, setPicture] = useState<HTMLImageElement | string>()
  useEffect(() => {
    const image = new Image()
    image.onload = () => setPicture(image)
    image.onerror = () => void whyUnreadable(hash, 'This is no picture that can be shown.').then(setPicture)
    image.src = evidenceUrl(hash)
    return () => {
      image.onload = image.onerror = null
    }
  }, [hash])
  return picture
}
