/** Whether a defect is known already: which of those that are known a draft is like, and why. */
import { Faults } from '../compute/fault'
import { meaningOf } from './concepts'
import { wordsWithWritten } from './words'

/** `where`: factors it was seen with. */
export type Described = {
  title: string
  text: string
  signature?: string
  where?: Record<string, string | number | boolean>
}
export type SimilarInput = { draft: Described & { id?: string }; defects: (Described & { id: string })[] }
/** `score`: 0 to 1, the same for every draft: a limit tells what is known from what is new. */
export type Similar = { id: string; score: number; because: string }

/** A title says more of what it is about than so many lines of text. */
const TITLE = 3
/** How soon more of the same word says nothing more, and how much the length of a text counts (Robertson &
 * Zaragoza 2009, BM25). */
const [SATURATION, LENGTH] = [1.2, 0.75]
/** What the share of the draft's own words counts beside the likeness of both. */
const OWN = 0.5
/** Of what is missing to 1 so much is left with the same signature. */
const SAME_SIGNATURE = 0.2
const OTHER_SIGNATURE = 0.85
/** What the places may add, or take away. */
const PLACE = 0.08
const [ANSWERS_LEAST, ANSWERS_MOST, SCORE_LEAST] = [10, 50, 0.3]
const WORDS_TOLD = 5

/** @returns the most alike first: at least ten where there are ten
 * @throws {BadInput} an id used twice */
export function similar({ draft, defects }: SimilarInput): Similar[] {
  const faults = new Faults()
  const ids = new Set<string>()
  defects.forEach(({ id }, i) => {
    if (ids.has(id)) faults.add(`defects/${i}/id`, `“${id}” is there twice`)
    ids.add(id)
  })
  faults.throwIfAny()
  const words = defects.map(countsOf)
  const own = countsOf(draft)
  const weigh = weights([...words, own])
  const asked = weigh(own)
  const all = defects.map((defect, i) => likeness(draft, asked, defect, weigh(words[i]!)))
  const sorted = all.sort((a, b) => b.score - a.score || (a.id < b.id ? -1 : 1))
  return sorted.filter(({ score }, i) => i < ANSWERS_LEAST || (i < ANSWERS_MOST && score >= SCORE_LEAST))
}

type Counts = { counts: Map<string, number>; length: number; written: Map<string, string> }

/** Meanings, how often each is there, and the word it was written as first. */
function countsOf({ title, text }: Described): Counts {
  const counts = new Map<string, number>()
  const written = new Map<string, string>()
  let length = 0
  for (const [part, weight] of [
    [title, TITLE],
    [text, 1],
  ] as const)
    for (const [word, own] of wordsWithWritten(part)) {
      const meaning = meaningOf(word)
      counts.set(meaning, (counts.get(meaning) ?? 0) + weight)
      if (!written.has(meaning)) written.set(meaning, own)
      length += weight
    }
  return { counts, length, written }
}

type Weighed = { weights: Map<string, number>; norm: number; sum: number; written: Map<string, string> }

/** How much each meaning says of a text: those that few texts have say more. */
function weights(all: readonly Counts[]): (text: Counts) => Weighed {
  const texts = new Map<string, number>()
  for (const { counts } of all)
    for (const meaning of counts.keys()) texts.set(meaning, (texts.get(meaning) ?? 0) + 1)
  const mean = all.reduce((sum, { length }) => sum + length, 0) / all.length || 1
  const rarity = (meaning: string) => {
    const n = texts.get(meaning) ?? 0
    return Math.log(1 + (all.length - n + 0.5) / (n + 0.5))
  }
  return ({ counts, length, written }) => {
    const weighed = new Map<string, number>()
    let [squares, sum] = [0, 0]
    for (const [meaning, count] of counts) {
      const often =
        (count * (SATURATION + 1)) / (count + SATURATION * (1 - LENGTH + (LENGTH * length) / mean))
      const weight = rarity(meaning) * often
      weighed.set(meaning, weight)
      squares += weight * weight
      sum += weight
    }
    return { weights: weighed, norm: Math.sqrt(squares), sum, written }
  }
}

function likeness(
  draft: Described,
  asked: Weighed,
  defect: Described & { id: string },
  there: Weighed,
): Similar {
  let [product, found] = [0, 0]
  const common: [word: string, weight: number][] = []
  for (const [meaning, weight] of asked.weights) {
    const other = there.weights.get(meaning)
    if (other === undefined) continue
    product += weight * other
    found += weight
    common.push([asked.written.get(meaning)!, weight * other])
  }
  const both = product === 0 ? 0 : product / (asked.norm * there.norm)
  const share = asked.sum === 0 ? 0 : found / asked.sum
  let score = (1 - OWN) * both + OWN * share
  const reasons: string[] = []
  if (common.length > 0) {
    const told = common.toSorted((a, b) => b[1] - a[1]).slice(0, WORDS_TOLD)
    reasons.push(`words in common: ${told.map(([word]) => word).join(', ')}`)
  }
  const place = placeOf(draft.where ?? {}, defect.where ?? {})
  score += PLACE * place.sum
  if (place.same.length > 0) reasons.push(`at the same place: ${place.same.join(', ')}`)
  if (place.other.length > 0) reasons.push(`elsewhere: ${place.other.join(', ')}`)
  if (draft.signature !== undefined && defect.signature !== undefined) {
    if (draft.signature === defect.signature) {
      score = 1 - (1 - score) * SAME_SIGNATURE
      reasons.unshift('the same signature')
    } else score *= OTHER_SIGNATURE
  }
  return {
    id: defect.id,
    score: Math.round(Math.min(1, Math.max(0, score)) * 1000) / 1000,
    because: reasons.join('; ') || 'nothing in common',
  }
}

/** Factors that both have. `sum`: from -1, all are others, to 1. */
function placeOf(one: NonNullable<Described['where']>, other: NonNullable<Described['where']>) {
  const names = Object.keys(one).filter((name) => Object.hasOwn(other, name))
  const same = names.filter((name) => one[name] === other[name])
  return {
    sum: names.length === 0 ? 0 : (2 * same.length - names.length) / names.length,
    same: same.map((name) => `${name} ${one[name]}`),
    other: names.filter((name) => !same.includes(name)).map((name) => `${name} ${other[name]}`),
  }
}
