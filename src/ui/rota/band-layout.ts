/** Where the starts of a pool stand on the rota. Starts of one rotation that are too near to tell apart are
 * gathered into one block with their number; none is narrower than a finger, and names have room or are not
 * there. */
import type { RotaOccurrence } from '@/core/view-models'
import { percentOf, type Span } from './span'

/** `starts`: one, or several of one rotation, in the order of time. Places in percent of the band: `solid` up
 * to the likely end, `faint` up to its p90. `namePx`: room for its name; absent: there is none. */
export type Block = {
  starts: RotaOccurrence[]
  row: number
  left: number
  solid: number
  faint: number
  namePx?: number
}

/** Pixels between two starts that are told apart, and of the narrowest block. */
const APART_PX = 22
export const BLOCK_LEAST_PX = 10
const [NAME_LEAST_PX, NAME_GAP_PX] = [40, 6]

type Extent = Omit<Block, 'row' | 'namePx'>

/** @param bandPx width of the band */
export function layBand(
  occurrences: readonly RotaOccurrence[],
  span: Span,
  bandPx: number,
): { blocks: Block[]; rows: number } {
  const percent = (px: number) => (px / bandPx) * 100
  const ends: number[] = []
  const placed = gathered(occurrences, span, percent(APART_PX))
    .sort((a, b) => a.left - b.left)
    .map((extent): Block => {
      let row = ends.findIndex((end) => end <= extent.left)
      if (row < 0) row = ends.length
      ends[row] = extent.left + Math.max(percent(BLOCK_LEAST_PX + 2), extent.solid + extent.faint)
      return { ...extent, row }
    })
  const blocks = placed.map((block, i) => {
    const next = placed.find((other, j) => j > i && other.row === block.row)
    const room = ((next?.left ?? 100) - block.left) * (bandPx / 100) - NAME_GAP_PX
    return room >= NAME_LEAST_PX ? { ...block, namePx: room } : block
  })
  return { blocks, rows: Math.max(1, ends.length) }
}

/** What may stand in one block: starts that were, or that are to come, or that did not go. */
function kindOf({ state, behind }: RotaOccurrence): string {
  if (state === 'planned') return behind === undefined ? 'planned' : 'behind'
  return state === 'started' ? 'started' : 'missed'
}

function gathered(occurrences: readonly RotaOccurrence[], span: Span, apart: number): Extent[] {
  const lists = new Map<string, RotaOccurrence[]>()
  for (const one of [...occurrences].sort((a, b) => (a.at < b.at ? -1 : 1))) {
    const key = `${one.rotation} ${kindOf(one)}`
    lists.set(key, [...(lists.get(key) ?? []), one])
  }
  return [...lists.values()].flatMap((list) => {
    const groups: RotaOccurrence[][] = []
    for (const one of list) {
      const last = groups.at(-1)
      if (last && leftOf(one, span) - leftOf(last.at(-1)!, span) < apart) last.push(one)
      else groups.push([one])
    }
    return groups.map((starts) => extentOf(starts, span))
  })
}

const leftOf = ({ at }: RotaOccurrence, span: Span) => percentOf(span, Date.parse(at))

function extentOf(starts: RotaOccurrence[], span: Span): Extent {
  const [first, last] = [starts[0]!, starts.at(-1)!]
  const left = leftOf(first, span)
  const width = (ms: number) => (ms / (span.to.getTime() - span.from.getTime())) * 100
  const realMs = last.endedAt ? Date.parse(last.endedAt) - Date.parse(last.at) : undefined
  const solid = leftOf(last, span) - left + width(realMs ?? last.p50Ms)
  return {
    starts,
    left,
    solid,
    faint: realMs === undefined ? width(Math.max(0, last.p90Ms - last.p50Ms)) : 0,
  }
}
