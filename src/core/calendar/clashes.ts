/** When occurrences of several rotations want more seats than their pool has, or the same thing for
 * themselves. */
import { Faults } from '../compute/fault'
import { logSigma, normalCdf } from '../compute/normal'

export type ClashesInput = {
  pools: { id: string; seats: number }[]
  /** `at`: an instant. It lasts from there to its p90; `seats`: how many it uses all that time. */
  occurrences: {
    id: string
    pool: string
    at: string
    p50Ms: number
    p90Ms: number
    seats: number
    exclusive?: string[]
  }[]
}
/** `need` of `have` seats; for a shared name 2 of 1. `likelihood`: the chance that all of them run at
 * `from`. */
export type Clash = {
  from: string
  to: string
  pool: string
  need: number
  have: number
  ids: string[]
  likelihood: number
  exclusive?: string
}

type Piece = {
  id: string
  from: number
  to: number
  at: number
  p50Ms: number
  p90Ms: number
  seats: number
  pool: string
  exclusive: string[]
}

/** One entry for each longest span in which the same occurrences clash, in the order of time. @throws
 * {BadInput} */
export function clashes(input: ClashesInput): Clash[] {
  const pieces = read(input)
  const crowded = input.pools.flatMap(({ id, seats }) =>
    spans(pieces.filter((piece) => piece.pool === id)).flatMap(({ from, to, running }) => {
      const need = running.reduce((sum, piece) => sum + piece.seats, 0)
      return need > seats ? [{ ...entry(from, to, id, running), need, have: seats }] : []
    }),
  )
  const names = [...new Set(pieces.flatMap(({ exclusive }) => exclusive))].sort()
  const shared = names.flatMap((name) => {
    const holders = pieces.filter(({ exclusive }) => exclusive.includes(name))
    return spans(holders).flatMap(({ from, to, running }) =>
      running.length > 1
        ? [{ ...entry(from, to, running[0]!.pool, running), need: 2, have: 1, exclusive: name }]
        : [],
    )
  })
  return [...crowded, ...shared].sort((a, b) => Date.parse(a.from) - Date.parse(b.from))
}

const entry = (from: number, to: number, pool: string, running: readonly Piece[]) => ({
  from: new Date(from).toISOString(),
  to: new Date(to).toISOString(),
  pool,
  ids: running.map(({ id }) => id),
  likelihood: running.reduce((chance, piece) => chance * stillRuns(piece, from), 1),
})

/** The longest spans of time with the same pieces at work, by one walk over their beginnings and ends. */
function spans(pieces: readonly Piece[]): { from: number; to: number; running: Piece[] }[] {
  const moments = [...new Set(pieces.flatMap(({ from, to }) => [from, to]))].sort((a, b) => a - b)
  const [begin, end] = [new Map<number, Piece[]>(), new Map<number, Piece[]>()]
  const note = (map: Map<number, Piece[]>, moment: number, piece: Piece) =>
    map.set(moment, [...(map.get(moment) ?? []), piece])
  for (const piece of pieces) {
    note(begin, piece.from, piece)
    note(end, piece.to, piece)
  }
  const running = new Set<Piece>()
  return moments.flatMap((from, i) => {
    for (const piece of end.get(from) ?? []) running.delete(piece)
    for (const piece of begin.get(from) ?? []) running.add(piece)
    const to = moments[i + 1]
    return to === undefined || running.size === 0
      ? []
      : [{ from, to, running: pieces.filter((piece) => running.has(piece)) }]
  })
}

/** The probability that it still runs at `moment`: its duration is log-normal, given by p50 and p90. */
function stillRuns({ at, p50Ms, p90Ms }: Piece, moment: number): number {
  const elapsed = moment - at
  if (elapsed <= 0) return 1
  const sigma = logSigma(p50Ms, p90Ms)
  if (sigma === 0) return elapsed < p50Ms ? 1 : 0
  return 1 - normalCdf(Math.log(elapsed / p50Ms) / sigma)
}

function read({ pools, occurrences }: ClashesInput): Piece[] {
  const faults = new Faults()
  pools.forEach(
    ({ id }, i) =>
      pools.findIndex((pool) => pool.id === id) < i && faults.add(`pools/${i}/id`, `“${id}” is there twice`),
  )
  const seen = new Set<string>()
  const pieces = occurrences.flatMap(({ id, pool, at, p50Ms, p90Ms, seats, exclusive = [] }, i): Piece[] => {
    const begins = Date.parse(at)
    if (seen.has(id)) faults.add(`occurrences/${i}/id`, `“${id}” is there twice`)
    seen.add(id)
    if (!pools.some((one) => one.id === pool))
      faults.add(`occurrences/${i}/pool`, `there is no pool “${pool}”`)
    if (Number.isNaN(begins)) faults.add(`occurrences/${i}/at`, `“${at}” is no instant`)
    if (p90Ms < p50Ms) faults.add(`occurrences/${i}/p90Ms`, 'it is less than p50Ms')
    return [
      {
        id,
        pool,
        at: begins,
        from: begins,
        to: begins + p90Ms,
        p50Ms,
        p90Ms,
        seats,
        exclusive: [...new Set(exclusive)],
      },
    ]
  })
  faults.throwIfAny()
  return pieces
}
