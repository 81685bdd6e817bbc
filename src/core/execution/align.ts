/** Two attempts of a case, step beside step. */
import { diffArrays } from 'diff'
import type { OutlineLine } from './outline'

export type AlignedKind = 'same' | 'changed' | 'moved' | 'added' | 'removed'
/** `good`, `now`: which line of each attempt; absent: it has none. `laterMs`: by how much the step took
 * longer now (below 0: shorter), where that is worth a word. `values`: those that are others. */
export type AlignedRow = {
  kind: AlignedKind
  good?: number
  now?: number
  laterMs?: number
  values: { name: string; was?: string; is?: string }[]
}
type Line = Pick<OutlineLine, 'depth' | 'words' | 'mark' | 'ms' | 'values'>

/** Less is chance, whatever share it is. */
const LATER_LEAST_MS = 300
const LATER_LEAST_SHARE = 0.5

/** Aligns by the words of the steps (longest common subsequence, Myers 1986), as they stand in the outline. A
 * step with other values is changed; one that stands elsewhere is moved: it has one row, at its new place.
 * @returns each line of both, once, in the order of the attempt of now */
export function align(good: readonly Line[], now: readonly Line[]): AlignedRow[] {
  const rows: AlignedRow[] = []
  let [g, n] = [0, 0]
  const parts = diffArrays(good.map(wholeWords), now.map(wholeWords))
  for (let p = 0; p < parts.length; p++) {
    const { value, added, removed } = parts[p]!
    if (!added && !removed) {
      for (let i = 0; i < value.length; i++) rows.push(pair(good, now, g++, n++, 'same'))
      continue
    }
    const gone = removed ? value.length : 0
    const next = removed && parts[p + 1]?.added ? parts[++p]!.value.length : 0
    const come = added ? value.length : next
    rows.push(...replaced(good, now, [g, g + gone], [n, n + come]))
    ;[g, n] = [g + gone, n + come]
  }
  return withMoves(rows, good, now)
}

const wholeWords = ({ depth, words: { verb, object, detail } }: Line) =>
  `${depth} ${verb} ${object} ${detail}`
/** What a step does and to what, whatever with. */
const mainWords = ({ depth, words: { verb, object } }: Line) => `${depth} ${verb} ${object}`

type Range = readonly [from: number, to: number]

/** Of steps that stand where others did, those that do the same to the same are one step with other values.
 * */
function replaced(
  good: readonly Line[],
  now: readonly Line[],
  [g, gEnd]: Range,
  [n, nEnd]: Range,
): AlignedRow[] {
  const rows: AlignedRow[] = []
  const parts = diffArrays(good.slice(g, gEnd).map(mainWords), now.slice(n, nEnd).map(mainWords))
  let [at, here] = [g, n]
  for (const { value, added, removed } of parts)
    for (let i = 0; i < value.length; i++) {
      if (removed) rows.push({ kind: 'removed', good: at++, values: [] })
      else if (added) rows.push({ kind: 'added', now: here++, values: [] })
      else rows.push(pair(good, now, at++, here++, 'changed'))
    }
  return rows
}

/** A step that went in one place and came in another moved there. */
function withMoves(rows: AlignedRow[], good: readonly Line[], now: readonly Line[]): AlignedRow[] {
  const gone = new Map<string, number[]>()
  for (const { kind, good: g } of rows)
    if (kind === 'removed') {
      const words = wholeWords(good[g!]!)
      gone.set(words, [...(gone.get(words) ?? []), g!])
    }
  const moved = new Set<number>()
  const found = rows.map((row) => {
    const from = row.kind === 'added' ? gone.get(wholeWords(now[row.now!]!))?.shift() : undefined
    if (from === undefined) return row
    moved.add(from)
    return pair(good, now, from, row.now!, 'moved')
  })
  return found.filter(({ kind, good: g }) => kind !== 'removed' || !moved.has(g!))
}

function pair(
  good: readonly Line[],
  now: readonly Line[],
  g: number,
  n: number,
  kind: AlignedKind,
): AlignedRow {
  const [was, is] = [good[g]!, now[n]!]
  const names = [...new Set([...Object.keys(was.values), ...Object.keys(is.values)])]
  const values = names
    .filter((name) => was.values[name] !== is.values[name])
    .map((name) => ({
      name,
      ...(was.values[name] !== undefined && { was: was.values[name] }),
      ...(is.values[name] !== undefined && { is: is.values[name] }),
    }))
  const laterMs = laterBy(was.ms, is.ms)
  return { kind, good: g, now: n, values, ...(laterMs !== undefined && { laterMs }) }
}

function laterBy(was: number | undefined, is: number | undefined): number | undefined {
  if (was === undefined || is === undefined) return undefined
  const by = is - was
  return Math.abs(by) >= LATER_LEAST_MS && Math.abs(by) >= was * LATER_LEAST_SHARE ? by : undefined
}

/** Whether a row says that the attempts are not the same there: another step, or another outcome of one. */
export function differs(
  { kind, good: g, now: n }: AlignedRow,
  good: readonly Line[],
  now: readonly Line[],
): boolean {
  return kind !== 'same' || good[g!]!.mark !== now[n!]!.mark
}
