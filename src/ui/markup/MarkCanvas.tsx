'use client'
import type Konva from 'konva'
import { useMemo, useRef, useState } from 'react'
import {
  Arrow,
  Circle,
  Group,
  Image as Picture,
  Label,
  Layer,
  Line,
  Rect,
  Stage,
  Tag,
  Text,
} from 'react-konva'
import type { Box } from '@/core/execution'
import { boxOf, pinNumber, type Mark, type MarkAction, type Marks, type Point, type Tool } from './marks'

/** Marks look the same in every theme: they are in the picture. */
const INK = '#b3203c'
const PAPER = '#ffffff'
const FONT = '"Hanken Grotesk Variable", sans-serif'
const LINE_WIDTH = 3
const PIN_RADIUS = 13
/** Pixels that become one: letters of a screen are smaller. */
const BLUR_PIXELS = 18

type Props = {
  picture: HTMLImageElement
  marks: Marks
  tool: Tool
  zoom: number
  dispatch(action: MarkAction): void
  /** The stage, for whoever keeps what is drawn. */
  stage: React.RefObject<Konva.Stage | null>
}

/** The picture with what is drawn over it; the pointer draws with the tool, or drags what is there. */
export default function MarkCanvas({ picture, marks, tool, zoom, dispatch, stage }: Props) {
  const start = useRef<Point>(undefined)
  const [drawing, setDrawing] = useState<{ from: Point; to: Point }>()
  const at = (): Point => stage.current?.getRelativePointerPosition() ?? { x: 0, y: 0 }
  const begin = (event: Konva.KonvaEventObject<PointerEvent>) => {
    if (event.target.findAncestor('.mark', true)) return
    start.current = at()
    dispatch({ do: 'select', id: null })
  }
  const end = () => {
    if (start.current) dispatch({ do: 'draw', tool, from: start.current, to: at() })
    start.current = undefined
    setDrawing(undefined)
  }
  return (
    <Stage
      ref={stage}
      width={marks.width * zoom}
      height={marks.height * zoom}
      scaleX={zoom}
      scaleY={zoom}
      onPointerDown={begin}
      onPointerMove={() => start.current && setDrawing({ from: start.current, to: at() })}
      onPointerUp={end}
      onPointerLeave={end}
    >
      <Layer>
        <Picture image={picture} width={marks.width} height={marks.height} />
        {[...marks.marks].sort(blursFirst).map((mark) => (
          <Group
            key={mark.id}
            name="mark"
            draggable
            onPointerDown={() => dispatch({ do: 'select', id: mark.id })}
            onDragEnd={({ target }) => {
              dispatch({ do: 'move', id: mark.id, by: target.position() })
              target.position({ x: 0, y: 0 })
            }}
          >
            <Drawn mark={mark} marks={marks.marks} picture={picture} />
          </Group>
        ))}
      </Layer>
      <Layer name="aids" listening={false}>
        {marks.crop && <Outside box={marks.crop} marks={marks} />}
        {drawing && <Outline box={boxOf(drawing.from, drawing.to)} />}
        {marks.marks.map(
          (mark) => mark.id === marks.selected && <Outline key={mark.id} box={around(mark)} />,
        )}
      </Layer>
    </Stage>
  )
}

/** What points at something stands over what hides something. */
const blursFirst = (a: Mark, b: Mark) => Number(b.kind === 'blur') - Number(a.kind === 'blur')

function Drawn({ mark, marks, picture }: { mark: Mark; marks: readonly Mark[]; picture: HTMLImageElement }) {
  const { from, to, text } = mark
  const box = boxOf(from, to)
  switch (mark.kind) {
    case 'arrow':
      return <Pointing points={[from.x, from.y, to.x, to.y]} />
    case 'box':
      return (
        <>
          <Rect {...sides(box)} stroke={PAPER} strokeWidth={LINE_WIDTH + 3} cornerRadius={3} />
          <Rect {...sides(box)} stroke={INK} strokeWidth={LINE_WIDTH} cornerRadius={3} />
        </>
      )
    case 'blur':
      return <Blurred box={box} picture={picture} />
    case 'pin':
      return (
        <>
          <Circle x={from.x} y={from.y} radius={PIN_RADIUS} fill={INK} stroke={PAPER} strokeWidth={2} />
          <Text
            x={from.x - PIN_RADIUS}
            y={from.y - PIN_RADIUS}
            width={2 * PIN_RADIUS}
            height={2 * PIN_RADIUS}
            align="center"
            verticalAlign="middle"
            text={String(pinNumber(marks, mark.id))}
            fontFamily={FONT}
            fontStyle="bold"
            fontSize={15}
            fill={PAPER}
          />
          {text !== '' && <Words at={{ x: from.x + PIN_RADIUS + 5, y: from.y - PIN_RADIUS }} text={text} />}
        </>
      )
    case 'text':
      return <Words at={from} text={text} />
  }
}

function Pointing({ points }: { points: number[] }) {
  const head = { pointerLength: 14, pointerWidth: 13 }
  return (
    <>
      <Arrow points={points} {...head} stroke={PAPER} fill={PAPER} strokeWidth={LINE_WIDTH + 4} />
      <Arrow points={points} {...head} stroke={INK} fill={INK} strokeWidth={LINE_WIDTH} />
    </>
  )
}

function Words({ at, text }: { at: Point; text: string }) {
  return (
    <Label x={at.x} y={at.y}>
      <Tag fill={PAPER} stroke={INK} strokeWidth={1.5} cornerRadius={4} />
      <Text text={text || ' '} padding={6} fontFamily={FONT} fontSize={15} fontStyle="600" fill={INK} />
    </Label>
  )
}

/** The part in few pixels, drawn out again: what was there cannot be read back from what is kept. */
function Blurred({ box, picture }: { box: Box; picture: HTMLImageElement }) {
  const { x, y, w, h } = box
  const small = useMemo(() => {
    const canvas = document.createElement('canvas')
    canvas.width = Math.max(1, Math.round(w / BLUR_PIXELS))
    canvas.height = Math.max(1, Math.round(h / BLUR_PIXELS))
    const pen = canvas.getContext('2d')!
    pen.imageSmoothingQuality = 'high'
    pen.drawImage(picture, x, y, w, h, 0, 0, canvas.width, canvas.height)
    return canvas
  }, [picture, x, y, w, h])
  return <Picture image={small} x={x} y={y} width={w} height={h} />
}

function Outside({ box, marks: { width, height } }: { box: Box; marks: Marks }) {
  const shade = { fill: '#000000', opacity: 0.55 }
  const right = box.x + box.w
  const below = box.y + box.h
  return (
    <>
      <Rect x={0} y={0} width={width} height={box.y} {...shade} />
      <Rect x={0} y={below} width={width} height={height - below} {...shade} />
      <Rect x={0} y={box.y} width={box.x} height={box.h} {...shade} />
      <Rect x={right} y={box.y} width={width - right} height={box.h} {...shade} />
    </>
  )
}

function Outline({ box: { x, y, w, h } }: { box: Box }) {
  const points = [x, y, x + w, y, x + w, y + h, x, y + h]
  return (
    <>
      <Line points={points} closed stroke={PAPER} strokeWidth={1} strokeScaleEnabled={false} />
      <Line
        points={points}
        closed
        stroke="#111111"
        strokeWidth={1}
        dash={[5, 4]}
        strokeScaleEnabled={false}
      />
    </>
  )
}

const sides = ({ x, y, w, h }: Box) => ({ x, y, width: w, height: h })

/** What a mark takes, and a little around it. */
function around({ kind, from, to }: Mark): Box {
  const reach = kind === 'pin' ? PIN_RADIUS + 3 : 5
  const { x, y, w, h } = kind === 'pin' || kind === 'text' ? boxOf(from, from) : boxOf(from, to)
  return { x: x - reach, y: y - reach, w: w + 2 * reach, h: h + 2 * reach }
}
