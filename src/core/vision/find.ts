/** Where a patch stands on a screen: also at another size, with other smoothing, in another theme. */
import { fieldOf, likeness, normalised, patternOf, type Field, type Pattern } from './correlation'
import { Correlator, transformedArea } from './fourier'
import { greyOf, resized, type Grey } from './grey'
import type { Box, Pixels } from './pixels'
import { resemblance } from './resemblance'

/** `scale`: of the screen by the patch. `score`: 0 to 1. */
export type Found = Box & { scale: number; score: number }
/** A place in pixels of a level; `like`: its correlation, without sign. */
type Place = Box & { scale: number; like: number }
/** The screen made smaller by `size`, and the patch in sizes that were asked for. */
type Level = { size: number; field: Field; correlator: () => Correlator; patterns: Map<number, Pattern> }

/** Sizes go in steps of 4 in 100 from 1 on, so that a patch of the same size is compared as it is. */
const STEP = 1.04
const STEPS = { down: -8, up: 11 }
const SIZES = Array.from({ length: STEPS.up - STEPS.down + 1 }, (_, i) => STEP ** (STEPS.down + i))
/** From this score on it stands there as it is, and other sizes are not looked for. */
const SURE_AS_IT_IS = 0.98
const SCALE = { least: 0.72, most: 1.56 }
/** Pixels of the patch when it is looked for everywhere, and its least side then. */
const COARSE = { area: 480, most: 900, side: 7, size: 0.5 }
/** How much smaller the screen may be made for that. */
const SHRINKS = [1, 0.96, 0.92]
/** Places that are looked at more closely, level by level. */
const [KEPT, KEPT_OF_A_SIZE] = [200, 40]
const FOUND_MOST = 20
/** Places whose size is looked for: as many as there may be, and those that others are taken for. */
const SIZED_MOST = 60
/** Of the likeness of the best: places that have less on the way are not looked at further. */
const WORTH = 0.7
/** A place less like the patch is not looked at more closely. */
const LIKE_LEAST = 0.3
/** Sizes around that of a rough place. */
const NEAR_STEPS = [1.06, 1.03, 1.015, 1.005]
/** From so many pixels on not every one is looked at. */
const FAR = 3
/** What a place of the patch's own size has ahead of others. */
const AS_IT_IS = 0.08
/** A place whose size is so near 1 is compared at 1, too. */
const ANCHOR = 0.1
/** Of what two places have in common: more, and they are one; when they are only roughly known, it takes
 * more. */
const [SAME_PLACE, SAME_ROUGHLY] = [0.3, 0.6]

/** All places that are like the patch, best first. Empty grounds are like nothing.
 * @param least the score from which a place counts */
export function find(screen: Pixels, patch: Pixels, { least = 0.8 }: { least?: number } = {}): Found[] {
  const [whole, wanted] = [greyOf(screen), greyOf(patch)]
  const levels = levelsOf(whole, wanted)
  const asItIs = inSizes(levels, wanted, [1])
  const found = (asItIs[0]?.score ?? 0) >= SURE_AS_IT_IS ? asItIs : inSizes(levels, wanted, SIZES)
  return found.filter(({ score }) => score >= least)
}

/** Places in these sizes and around them, best first. */
function inSizes([coarse, ...finer]: Level[], patch: Grey, sizes: readonly number[]): Found[] {
  let places = everywhere(coarse!, patch, sizes)
  let before = coarse!
  for (const level of finer) {
    const growth = level.size / before.size
    const placed = places.map((place) => moved(level, patch, place, growth))
    const promising = worth(placed).slice(0, SIZED_MOST)
    places = apart(worth(promising.map((place) => sized(level, patch, place))), FOUND_MOST)
    before = level
  }
  return places.map((place) => foundAt(place, before, patch)).sort((a, b) => b.score - a.score)
}

/** At the last level, which is the screen as it is. */
function foundAt({ x, y, scale, like }: Place, level: Level, patch: Grey): Found {
  const pattern = patternAt(level, patch, scale)
  return {
    x,
    y,
    w: pattern.width,
    h: pattern.height,
    scale: rounded(scale),
    score: rounded(resemblance(level.field, pattern, x, y, like)),
  }
}

const rounded = (value: number) => Math.round(value * 1000) / 1000

function levelsOf(screen: Grey, patch: Grey): Level[] {
  const area = patch.width * patch.height
  const side = Math.min(patch.width, patch.height)
  const sized = Math.min(COARSE.side / side, Math.sqrt(COARSE.most / area))
  const wanted = Math.min(COARSE.size, Math.max(Math.sqrt(COARSE.area / area), sized))
  // A little smaller, where that takes fewer steps to transform.
  const costOf = (by: number) => transformedArea(screen.width * wanted * by, screen.height * wanted * by)
  let size = wanted * SHRINKS.toSorted((a, b) => costOf(a) - costOf(b) || b - a)[0]!
  const sizes = [size]
  while (size < 1) sizes.push((size = Math.min(1, size * 2)))
  return sizes.map((one) => {
    const field = fieldOf(smaller(screen, one))
    let correlator: Correlator | undefined
    return {
      size: one,
      field,
      correlator: () => (correlator ??= new Correlator(field)),
      patterns: new Map(),
    }
  })
}

const smaller = (grey: Grey, size: number) =>
  resized(grey, Math.max(1, Math.round(grey.width * size)), Math.max(1, Math.round(grey.height * size)))

/** Many places ask for the same size. */
function patternAt({ size, patterns }: Level, patch: Grey, scale: number): Pattern {
  const [width, height] = [patch.width, patch.height].map((side) =>
    Math.max(1, Math.round(side * size * scale)),
  )
  const key = width! * 65_536 + height!
  const known = patterns.get(key) ?? patternOf(resized(patch, width!, height!))
  patterns.set(key, known)
  return known
}

/** The patch at each of these sizes, compared at each place, two sizes at once. */
function everywhere(level: Level, patch: Grey, sizes: readonly number[]): Place[] {
  const { field, correlator } = level
  const all: Place[] = []
  for (let i = 0; i < sizes.length; i += 2) {
    const [one, other] = sizes.slice(i, i + 2).map((scale) => patternAt(level, patch, scale))
    const products = correlator().products(fitting(one, field), fitting(other, field))
    all.push(...placesOf(field, one!, sizes[i]!, products.one, products.stride))
    if (other) all.push(...placesOf(field, other, sizes[i + 1]!, products.other, products.stride))
  }
  return apart(all, KEPT, SAME_ROUGHLY)
}

/** A patch that is larger than the screen is nowhere on it. */
const fitting = (pattern: Pattern | undefined, { width, height }: Grey): Grey =>
  !pattern || pattern.width > width || pattern.height > height
    ? { width: 0, height: 0, data: new Float32Array() }
    : pattern

function placesOf(
  field: Field,
  pattern: Pattern,
  scale: number,
  products: Float64Array,
  stride: number,
): Place[] {
  const { width: w, height: h, norm } = pattern
  const found: Place[] = []
  for (let y = 0; y <= field.height - h; y++)
    for (let x = 0; x <= field.width - w; x++) {
      const like = Math.abs(normalised(products[y * stride + x]!, field.sums.spread(x, y, w, h), pattern))
      if (like > LIKE_LEAST && norm > 0) found.push({ x, y, w, h, scale, like })
    }
  return apart(found, KEPT_OF_A_SIZE, SAME_ROUGHLY)
}

/** The most alike first, without those that are much less so than the best. */
function worth(places: Place[]): Place[] {
  const sorted = places.toSorted((a, b) => b.like - a.like)
  const [best] = sorted
  return sorted.filter(({ like }) => like >= best!.like * WORTH)
}

/** The best of the places around a place of the level before, at its size. */
function moved(level: Level, patch: Grey, rough: Place, growth: number): Place {
  const [x, y] = [Math.round(rough.x * growth), Math.round(rough.y * growth)]
  const start: Place = { ...rough, x, y, w: rough.w * growth, h: rough.h * growth, like: 0 }
  const reach = Math.ceil(growth) + 1
  const asItIs = Math.abs(rough.scale - 1) < ANCHOR ? bestAround(level, patch, start, 1, reach) : start
  return bestAround(level, patch, asItIs, rough.scale, reach)
}

/** The best of the sizes around; the patch's own stays. */
function sized(level: Level, patch: Grey, place: Place): Place {
  let best = place
  for (let step = 0; best.scale !== 1 && step < NEAR_STEPS.length;) {
    const before = best
    for (const scale of [best.scale / NEAR_STEPS[step]!, best.scale * NEAR_STEPS[step]!])
      best = bestAround(level, patch, best, scale, 1)
    if (best === before) step++
  }
  return best
}

/** `before`, or what is better at this size within so many pixels: where its middle stays. Far ones are
 * looked at in steps of two, and what is around the best of them then. */
function bestAround(level: Level, patch: Grey, before: Place, scale: number, reach: number): Place {
  if (scale < SCALE.least || scale > SCALE.most) return before
  const pattern = patternAt(level, patch, scale)
  const x = Math.round(before.x + (before.w - pattern.width) / 2)
  const y = Math.round(before.y + (before.h - pattern.height) / 2)
  if (reach < FAR) return bestOf(level, pattern, before, scale, { x, y, reach, step: 1 })
  const rough = bestOf(level, pattern, before, scale, { x, y, reach, step: 2 })
  return rough === before
    ? before
    : bestOf(level, pattern, rough, scale, { x: rough.x, y: rough.y, reach: 1, step: 1 })
}

type Around = { x: number; y: number; reach: number; step: number }

function bestOf(level: Level, pattern: Pattern, before: Place, scale: number, around: Around): Place {
  const { x: left, y: top, reach, step } = around
  const { width: w, height: h } = pattern
  let best = before
  for (let y = top - reach; y <= top + reach; y += step)
    for (let x = left - reach; x <= left + reach; x += step) {
      if (x < 0 || y < 0 || x + w > level.field.width || y + h > level.field.height) continue
      const like = Math.abs(likeness(level.field, pattern, x, y))
      if (like > best.like) best = { x, y, w, h, scale, like }
    }
  return best
}

/** The best ones, none over another. */
function apart(places: readonly Place[], most: number, same = SAME_PLACE): Place[] {
  const kept: Place[] = []
  const rank = ({ like, scale }: Place) => (scale === 1 ? like + AS_IT_IS : like)
  for (const place of places.toSorted((a, b) => rank(b) - rank(a))) {
    if (kept.length === most) break
    if (!kept.some((other) => shareOf(place, other) > same)) kept.push(place)
  }
  return kept
}

/** What two boxes have in common, of what they cover. */
function shareOf(a: Box, b: Box): number {
  const across = Math.min(a.x + a.w, b.x + b.w) - Math.max(a.x, b.x)
  const down = Math.min(a.y + a.h, b.y + b.h) - Math.max(a.y, b.y)
  if (across <= 0 || down <= 0) return 0
  return (across * down) / (a.w * a.h + b.w * b.h - across * down)
}
