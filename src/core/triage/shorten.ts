/** Which steps of a case a failure needs: fewer and fewer are tried, until none of those left can go. Delta
 * debugging (Zeller, Hildebrandt: Simplifying and Isolating Failure-Inducing Input, IEEE TSE 28(2), 2002),
 * level by level of the steps in steps (Misherghi, Su: HDD, ICSE 2006). */
import { Faults } from '../compute/fault'
import type { Step } from '../model'

/** What was tried: places of the steps that were kept, and whether it failed in the same way. */
export type ShortenTry = { kept: readonly string[]; same: boolean }
/** `looks`: it only looks, or lets time pass. Outer ones stand before those in them. */
export type ShortenStep = { place: string; looks?: boolean }
export type ShortenInput = {
  steps: readonly ShortenStep[]
  /** Place of the step that failed: `3`, or `3.0` for the first step in it. */
  failing: string
  tries: readonly ShortenTry[]
  /** More are not tried. */
  most: number
}
/** `gone`: with all steps up to the one that failed it did not fail again. `isShortest`: no step of those
 * left can go alone; else the tries were over. */
export type ShortenNext =
  { is: 'try'; kept: string[] } | { is: 'over'; kept: string[]; isShortest: boolean } | { is: 'gone' }

type Piece = ShortenStep & { depth: number }
const LOOKS = new Set<Step['verb']>(['check', 'wait'])

const keyOf = (places: readonly string[]) => places.join(' ')
const isWithin = (place: string, outer: string) => place === outer || place.startsWith(`${outer}.`)

/** What to try next, told by what was tried so far: the same for the same tries. Steps after the one that
 * failed were never reached, and are left out from the beginning. */
export function shortenNext({ steps, failing, tries, most }: ShortenInput): ShortenNext {
  const all = steps.map((step) => ({ ...step, depth: step.place.split('.').length - 1 }))
  const last = all.findLastIndex(({ place }) => isWithin(place, failing) || isWithin(failing, place))
  const pieces = all.slice(0, last + 1)
  const known = new Map(tries.map(({ kept, same }) => [keyOf(kept), same]))
  let shortest = pieces.map(({ place }) => place)
  const fails = (kept: readonly Piece[]): boolean => {
    const places = kept.map(({ place }) => place)
    const same = known.get(keyOf(places))
    if (same === undefined) throw new Untried(places)
    if (same && places.length < shortest.length) shortest = places
    return same
  }
  try {
    if (!fails(pieces)) return { is: 'gone' }
    const kept = withoutLevels(pieces, failing, fails)
    return { is: 'over', kept: kept.map(({ place }) => place), isShortest: true }
  } catch (error) {
    if (!(error instanceof Untried)) throw error
    if (tries.length >= most) return { is: 'over', kept: shortest, isShortest: false }
    return { is: 'try', kept: error.places }
  }
}

/** The steps of a case, as they are tried. */
export const shortenSteps = (steps: readonly Step[], outer = ''): ShortenStep[] =>
  steps.flatMap((step, i) => [
    { place: `${outer}${i}`, looks: LOOKS.has(step.verb) },
    ...('steps' in step ? shortenSteps(step.steps, `${outer}${i}.`) : []),
  ])

/** The same for inputs that come from outside. @throws {BadInput} places that are no steps of each other */
export function shorten(input: ShortenInput): ShortenNext {
  const faults = new Faults()
  const known = new Set<string>()
  for (const [i, { place }] of input.steps.entries()) {
    const outer = place.split('.').slice(0, -1).join('.')
    if (known.has(place)) faults.add(`steps/${i}/place`, `${place} stands there twice`)
    if (outer !== '' && !known.has(outer)) faults.add(`steps/${i}/place`, `${outer} has to stand before it`)
    known.add(place)
  }
  if (!known.has(input.failing)) faults.add('failing', `${input.failing} is none of the steps`)
  faults.throwIfAny()
  return shortenNext(input)
}

/** The steps of a case that are left. A step whose inner steps are all gone goes with them. */
export function stepsKept(steps: readonly Step[], kept: ReadonlySet<string>, outer = ''): Step[] {
  return steps.flatMap((step, i) => {
    const place = `${outer}${i}`
    if (!kept.has(place)) return []
    if (!('steps' in step)) return [step]
    const inner = stepsKept(step.steps, kept, `${place}.`)
    return inner.length === 0 && step.steps.length > 0 ? [] : [{ ...step, steps: inner } as Step]
  })
}

class Untried extends Error {
  constructor(readonly places: string[]) {
    super('it has to be tried')
  }
}

type Fails = (kept: readonly Piece[]) => boolean

function withoutLevels(pieces: readonly Piece[], failing: string, fails: Fails): readonly Piece[] {
  const isNeeded = ({ place }: Piece) => isWithin(place, failing) || isWithin(failing, place)
  // most failures need none of those that only look: one try tells
  const acting = pieces.filter((piece) => !piece.looks || isNeeded(piece))
  let kept = acting.length < pieces.length && fails(acting) ? acting : pieces
  const deepest = Math.max(...pieces.map(({ depth }) => depth))
  for (let depth = 0; depth <= deepest; depth++) {
    const level = kept.filter((piece) => piece.depth === depth && !isNeeded(piece))
    const withOnly = (some: readonly Piece[]) => {
      const gone = level.filter((piece) => !some.includes(piece))
      return kept.filter(({ place }) => !gone.some((one) => isWithin(place, one.place)))
    }
    const left = fewest(level, (some) => fails(withOnly(some)))
    kept = withOnly(left)
  }
  return kept
}

/** @param fails with these of the level, and all of the other levels
 * @returns so few that none of them can go alone */
function fewest(level: readonly Piece[], fails: Fails): readonly Piece[] {
  if (level.length === 0) return level
  if (fails([])) return []
  let left = level
  for (let parts = 2; left.length >= 2;) {
    const chunks = inParts(left, parts)
    const rests = chunks.map((chunk) => left.filter((piece) => !chunk.includes(piece)))
    // of two parts each is what the other leaves
    const found = (parts === 2 ? chunks : [...chunks, ...rests]).find(fails)
    if (found) {
      parts = chunks.includes(found as Piece[]) ? 2 : Math.max(2, parts - 1)
      left = found
    } else if (parts < left.length) parts = Math.min(left.length, parts * 2)
    else break
  }
  return left
}

function inParts(pieces: readonly Piece[], parts: number): Piece[][] {
  const size = pieces.length / parts
  return Array.from({ length: parts }, (_, i) =>
    pieces.slice(Math.round(i * size), Math.round((i + 1) * size)),
  ).filter((part) => part.length > 0)
}
