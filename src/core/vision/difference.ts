/** Two screenshots: where they differ, and what only moved. */
import { areasOf, type Area } from './areas'
import { colourAround, isColour, isEmpty } from './around'
import { ANOTHER_FROM, changedPixels, isNear } from './changed'
import { movesIn, type Move } from './moved'
import { cropped, type Box, type Pixels } from './pixels'

export type RegionKind = 'moved' | 'changed' | 'added' | 'removed'
/** `x`, `y`, `w`, `h`: in the second picture. `dx`, `dy`: how far it came, where it only moved. */
export type Region = Box & { pixels: number; kind: RegionKind; dx?: number; dy?: number }
/** `ratio`: of the pixels that both have, those that differ. */
export type Difference = {
  same: boolean
  ratio: number
  size: { a: { w: number; h: number }; b: { w: number; h: number } }
  regions: Region[]
}

/** Fewer pixels are dust: what smoothing leaves. */
const PIXELS_LEAST = 3
/** A block of which fewer pixels changed did not move. */
const MOVED_LEAST = 8

/** Compares the parts that both pictures have; of different sizes they are never the same.
 * @param ignore boxes that are not looked at
 * @param steps of 255 in a channel that are no difference; 2 unless said */
export function difference(
  first: Pixels,
  second: Pixels,
  { ignore = [], steps }: { ignore?: readonly Box[]; steps?: number } = {},
): Difference {
  const [width, height] = [Math.min(first.width, second.width), Math.min(first.height, second.height)]
  const [a, b] = [cropped(first, width, height), cropped(second, width, height)]
  const changed = changedPixels(a, b, ignore, steps)
  let all = 0
  for (let i = 0; i < changed.length; i++) all += changed[i]!
  // In another picture nothing only moved.
  const moves = all === 0 || all > width * height * ANOTHER_FROM ? [] : movesIn(a, b, changed)
  const moved = moves.flatMap((move) => {
    const pixels = takeOut(a, b, changed, move)
    return pixels < MOVED_LEAST
      ? []
      : [{ ...move.box, pixels, kind: 'moved' as const, dx: move.dx, dy: move.dy }]
  })
  const rest = areasOf(changed, width, height)
    .filter(({ pixels }) => pixels >= PIXELS_LEAST)
    .map((area) => ({ ...area, kind: kindOf(a, b, area) }))
  const regions = [...moved, ...rest].sort((one, other) => one.y - other.y || one.x - other.x)
  return {
    same: regions.length === 0 && first.width === second.width && first.height === second.height,
    ratio: width * height === 0 ? 0 : all / (width * height),
    size: {
      a: { w: first.width, h: first.height },
      b: { w: second.width, h: second.height },
    },
    regions,
  }
}

/** Takes what a move explains out of what changed: the block at its new place, and the ground it left.
 * @returns how many pixels that were */
function takeOut(a: Pixels, b: Pixels, changed: Uint8Array, { box, dx, dy }: Move): number {
  const { width, height } = a
  const ground = colourAround(b, { x: box.x - 2, y: box.y - 2, w: box.w + 4, h: box.h + 4 })
  let pixels = 0
  const take = (at: number) => {
    pixels += changed[at]!
    changed[at] = 0
  }
  for (let v = box.y; v < box.y + box.h; v++)
    for (let u = box.x; u < box.x + box.w; u++) {
      const [here, there] = [v * width + u, (v - dy) * width + u - dx]
      if (v - dy < 0 || u - dx < 0 || v - dy >= height || u - dx >= width) continue
      if (!isNear(b.data, a.data, here * 4, there * 4)) continue
      take(here)
      if (changed[there] && isColour(b, there, ground)) take(there)
    }
  return pixels
}

function kindOf(a: Pixels, b: Pixels, area: Area): RegionKind {
  const [was, is] = [!isEmpty(a, area), !isEmpty(b, area)]
  if (was === is) return 'changed'
  return is ? 'added' : 'removed'
}
