/** What is drawn over a picture, and how it changes: pure, in pixels of the picture. */
import type { Box } from '@/core/execution'

export const KINDS = ['arrow', 'box', 'blur', 'pin', 'text'] as const
export type Kind = (typeof KINDS)[number]
/** `crop` keeps only a part of the picture. */
export type Tool = Kind | 'crop'
export type Point = { x: number; y: number }

/** An arrow goes from `from` to `to`; a box and a blur are between them; a pin and a text are at `from`. */
export type Mark = { id: number; kind: Kind; from: Point; to: Point; text: string }
type Drawn = { marks: readonly Mark[]; crop: Box | null }
export type Marks = Drawn & {
  width: number
  height: number
  selected: number | null
  nextId: number
  past: readonly Drawn[]
  future: readonly Drawn[]
}

export type MarkAction =
  | { do: 'draw'; tool: Tool; from: Point; to: Point }
  | { do: 'select'; id: number | null }
  | { do: 'move'; id: number; by: Point }
  | { do: 'reach'; id: number; by: Point }
  | { do: 'write'; id: number; text: string }
  | { do: 'remove'; id: number }
  | { do: 'whole' }
  | { do: 'undo' }
  | { do: 'redo' }

/** Smaller than this is a slip of the hand. */
const SIDE_LEAST = 4
const UNDO_MOST = 100

export const noMarks = (width: number, height: number): Marks => ({
  width,
  height,
  marks: [],
  crop: null,
  selected: null,
  nextId: 1,
  past: [],
  future: [],
})

export function changeMarks(now: Marks, action: MarkAction): Marks {
  switch (action.do) {
    case 'draw':
      return draw(now, action.tool, within(now, action.from), within(now, action.to))
    case 'select':
      return { ...now, selected: action.id }
    case 'move':
      return change(now, action.id, (mark) => moved(now, mark, action.by))
    case 'reach':
      return change(now, action.id, (mark) => ({ ...mark, to: within(now, plus(mark.to, action.by)) }))
    case 'write':
      return change(now, action.id, (mark) => ({ ...mark, text: action.text.slice(0, 200) }))
    case 'remove':
      return { ...next(now, { marks: now.marks.filter(({ id }) => id !== action.id) }), selected: null }
    case 'whole':
      return next(now, { crop: null })
    case 'undo':
      return back(now)
    case 'redo':
      return again(now)
  }
}

/** The corner nearest to the origin, and how far it reaches. */
export const boxOf = (from: Point, to: Point): Box => ({
  x: Math.min(from.x, to.x),
  y: Math.min(from.y, to.y),
  w: Math.abs(to.x - from.x),
  h: Math.abs(to.y - from.y),
})

/** What a pin says: pins are counted in the order they were set. */
export const pinNumber = (marks: readonly Mark[], id: number): number =>
  marks.filter(({ kind }) => kind === 'pin').findIndex((mark) => mark.id === id) + 1

/** A mark in words, for lists. */
export function describeMark(mark: Mark, marks: readonly Mark[]): string {
  const { from, to, text } = mark
  const box = boxOf(from, to)
  switch (mark.kind) {
    case 'arrow':
      return `Arrow to ${to.x}, ${to.y}`
    case 'box':
    case 'blur':
      return `${mark.kind === 'box' ? 'Box' : 'Blur'}, ${box.w} x ${box.h} at ${box.x}, ${box.y}`
    case 'pin':
      return `Pin ${pinNumber(marks, mark.id)} at ${from.x}, ${from.y}`
    case 'text':
      return `Text “${text}” at ${from.x}, ${from.y}`
  }
}

function draw(now: Marks, tool: Tool, from: Point, to: Point): Marks {
  const { w, h } = boxOf(from, to)
  if (tool === 'crop') return w < SIDE_LEAST || h < SIDE_LEAST ? now : next(now, { crop: boxOf(from, to) })
  const isSlip = tool === 'arrow' ? Math.hypot(w, h) < SIDE_LEAST : w < SIDE_LEAST || h < SIDE_LEAST
  if (isSlip && tool !== 'pin' && tool !== 'text') return now
  const id = now.nextId
  const mark: Mark = { id, kind: tool, from, to, text: tool === 'text' ? 'Text' : '' }
  return { ...next(now, { marks: [...now.marks, mark] }), selected: id, nextId: id + 1 }
}

const plus = (a: Point, b: Point): Point => ({ x: a.x + b.x, y: a.y + b.y })
const within = ({ width, height }: Marks, { x, y }: Point): Point => ({
  x: Math.round(Math.min(width, Math.max(0, x))),
  y: Math.round(Math.min(height, Math.max(0, y))),
})

/** The whole mark, as far as the picture reaches: its size stays. */
function moved(now: Marks, mark: Mark, by: Point): Mark {
  const { x, y, w, h } = boxOf(mark.from, mark.to)
  const far = {
    x: Math.round(Math.min(now.width - x - w, Math.max(-x, by.x))),
    y: Math.round(Math.min(now.height - y - h, Math.max(-y, by.y))),
  }
  return { ...mark, from: plus(mark.from, far), to: plus(mark.to, far) }
}

function change(now: Marks, id: number, how: (mark: Mark) => Mark): Marks {
  if (!now.marks.some((mark) => mark.id === id)) return now
  return next(now, { marks: now.marks.map((mark) => (mark.id === id ? how(mark) : mark)) })
}

const drawn = ({ marks, crop }: Drawn): Drawn => ({ marks, crop })
const next = (now: Marks, changed: Partial<Drawn>): Marks => ({
  ...now,
  ...changed,
  past: [...now.past.slice(1 - UNDO_MOST), drawn(now)],
  future: [],
})
function back(now: Marks): Marks {
  const last = now.past.at(-1)
  if (!last) return now
  return { ...now, ...last, past: now.past.slice(0, -1), future: [drawn(now), ...now.future], selected: null }
}
function again(now: Marks): Marks {
  const [first, ...rest] = now.future
  if (!first) return now
  return { ...now, ...first, past: [...now.past, drawn(now)], future: rest, selected: null }
}
