'use client'
import { useRef, useState } from 'react'
import { EvidenceImage } from '../base/EvidenceImage'
import { OneOf } from '../base/ToggleGroup'

const ZOOMS = [
  ['fit', 'Fit'],
  ['1', '100 %'],
  ['2', '200 %'],
  ['4', '400 %'],
  ['8', '800 %'],
] as const
type Zoom = (typeof ZOOMS)[number][0]
type Pixel = { x: number; y: number; colour: string }

/** A picture to the pixel: drawn out without smoothing, dragged by the pointer, with the colour under it. The
 * keys + and - draw it out and in. */
export function LargeScreen({
  hash,
  alt,
  children,
}: {
  hash: string
  alt: string
  children?: React.ReactNode
}) {
  const [zoom, setZoom] = useState<Zoom>('fit')
  const [pixel, setPixel] = useState<Pixel>()
  const [width, setWidth] = useState(0)
  const image = useRef<HTMLImageElement>(null)
  const colours = useRef<CanvasRenderingContext2D>(null)
  const held = useRef<{ x: number; y: number }>(undefined)
  const step = (by: 1 | -1) => {
    const at = ZOOMS.findIndex(([one]) => one === zoom) + by
    if (ZOOMS[at]) setZoom(ZOOMS[at][0])
  }
  const drag = (event: React.PointerEvent<HTMLDivElement>) => {
    if (held.current && event.buttons === 1)
      event.currentTarget.scrollBy(held.current.x - event.clientX, held.current.y - event.clientY)
    held.current = { x: event.clientX, y: event.clientY }
    if (image.current) setPixel(pixelAt(image.current, colours, event))
  }
  const factor = zoom === 'fit' ? undefined : Number(zoom)
  return (
    <div>
      <div className="mb-2 flex items-center gap-3">
        <OneOf label="Size" value={zoom} choices={ZOOMS} onChoose={setZoom} />
        <span className="font-mono text-xs text-soft" data-testid="pixel">
          {pixel && `${pixel.x}, ${pixel.y} ${pixel.colour}`}
        </span>
        <span className="ml-auto">{children}</span>
      </div>
      {/* it is scrolled by keys, which only an element with the focus is */}
      <div
        role="region"
        tabIndex={0}
        aria-label="The picture"
        className="max-h-[64vh] cursor-grab overflow-auto border border-line bg-ground"
        onPointerMove={drag}
        onPointerLeave={() => setPixel(undefined)}
        onKeyDown={({ key }) => (key === '+' || key === '-') && step(key === '+' ? 1 : -1)}
      >
        <EvidenceImage
          ref={image}
          hash={hash}
          alt={alt}
          draggable={false}
          onLoad={({ currentTarget }) => {
            colours.current = null
            setWidth(currentTarget.naturalWidth)
          }}
          className={factor === undefined ? 'mx-auto max-h-[63vh]' : 'max-w-none'}
          style={factor === undefined ? undefined : enlarged(factor, width)}
        />
      </div>
    </div>
  )
}

const enlarged = (factor: number, width: number): React.CSSProperties => ({
  width: width * factor,
  imageRendering: factor > 1 ? 'pixelated' : 'auto',
})

/** What is under the pointer, in pixels of the picture. */
function pixelAt(
  image: HTMLImageElement,
  kept: React.RefObject<CanvasRenderingContext2D | null>,
  { clientX, clientY }: { clientX: number; clientY: number },
): Pixel | undefined {
  const frame = image.getBoundingClientRect()
  const x = Math.floor(((clientX - frame.left) / frame.width) * image.naturalWidth)
  const y = Math.floor(((clientY - frame.top) / frame.height) * image.naturalHeight)
  if (!(x >= 0 && y >= 0 && x < image.naturalWidth && y < image.naturalHeight)) return undefined
  kept.current ??= drawnOf(image)
  const [r, g, b] = kept.current?.getImageData(x, y, 1, 1).data ?? []
  return { x, y, colour: `#${[r, g, b].map((part = 0) => part.toString(16).padStart(2, '0')).join('')}` }
}

function drawnOf(image: HTMLImageElement): CanvasRenderingContext2D | null {
  const canvas = document.createElement('canvas')
  canvas.width = image.naturalWidth
  canvas.height = image.naturalHeight
  const pen = canvas.getContext('2d', { willReadFrequently: true })
  pen?.drawImage(image, 0, 0)
  return pen
}
