/** What kind of cause a group of failures likely has: a multinomial logistic model of few weights, which
 * begins with what people who do this know, and moves with each of their decisions. It decides nothing. */
import { CAUSES, evidenceOf, type CauseName, type Evidence, type GroupFacts } from './evidence'

type Decisions = readonly { group: GroupFacts; cause: CauseName }[]
export type CauseInput = { group: GroupFacts; decisions?: Decisions }
/** `because`: what speaks for a cause, the weightiest first. `weight`: how much it adds to the logarithm
 * of the odds of that cause. */
export type CauseAnswer = {
  likelihoods: Record<CauseName, number>
  because: { cause: CauseName; text: string; weight: number }[]
}

/** By the name of the evidence, in the order of CAUSES: how much it speaks for each. */
const AT_FIRST: Record<string, readonly number[]> = {
  //                  product test   env    data  change unclear
  always: [0.3, 0.0, 0.0, -0.6, -0.9, -0.3],
  'kind:check': [1.2, -0.4, -0.9, 0.6, 0.9, 0.0],
  'kind:target': [-0.1, 1.4, -0.5, -0.6, 0.7, 0.0],
  'kind:dialog': [0.4, 0.4, 0.3, 0.0, 0.2, 0.2],
  'kind:page': [1.1, -0.6, 0.7, -0.3, -0.7, 0.0],
  'kind:script': [0.6, 0.8, 0.0, -0.1, -0.7, 0.1],
  'kind:time-limit': [0.1, 0.0, 1.1, -0.6, -0.9, 0.4],
  'kind:agent': [-2.0, -0.9, 2.8, -0.9, -1.5, 0.0],
  'kind:data': [-0.2, 0.2, 0.2, 2.0, -0.7, 0.0],
  everywhere: [0.7, 0.3, -0.9, 0.3, 0.6, -0.2],
  somewhere: [0.2, 0.0, 0.6, -0.2, -0.3, 0.1],
  'at-machine': [-1.2, -0.6, 2.3, -0.3, -1.0, 0.0],
  'at-product': [1.1, 0.2, -0.3, -0.4, 0.3, -0.2],
  new: [0.9, -0.2, -0.4, -0.3, 1.0, -0.2],
  old: [-0.3, 0.3, 0.2, 0.2, -0.8, 0.1],
  flaky: [-0.9, 1.0, 0.8, -0.2, -1.2, 0.5],
  recovered: [-1.0, 0.4, 1.4, -0.4, -1.5, 0.4],
  unhealthy: [-1.2, -0.6, 2.2, -0.5, -0.9, 0.0],
  'one-agent': [-0.7, -0.3, 1.4, -0.1, -0.8, 0.1],
  'many-cases': [0.3, -0.2, 0.3, 0.1, 0.3, 0.0],
  ...Object.fromEntries(
    CAUSES.map((cause, at) => [`similar:${cause}`, CAUSES.map((_, i) => (i === at ? 2.2 : -0.2))]),
  ),
}
const ALWAYS = 'always'
/** How much each decision counts against what is known at first: a Gaussian prior of this precision. */
const PRECISION = 2
const ROUNDS = 120
/** From so many decisions on it is seen how sure it may be, in so many parts. */
const [SHARPENED_FROM, PARTS] = [25, 5]
const SHARPNESSES = [1, 0.5, 0.6, 0.7, 0.8, 0.9, 1.15, 1.3, 1.5, 1.75, 2, 2.5, 3]
/** What adds less is no reason. */
const REASON_LEAST = 0.15
const REASONS_MOST = 12

/** `rows`: of each evidence, in the order of CAUSES. `sharpness`: what all of it is multiplied by, so that
 * it is right as often as it is sure. */
export type Weights = { rows: Map<string, Float64Array>; sharpness: number }

export const cause = ({ group, decisions = [] }: CauseInput): CauseAnswer => causeBy(learnt(decisions), group)

/** The same by weights that were learnt before: many groups may be asked by them. */
export function causeBy(weights: Weights, group: GroupFacts): CauseAnswer {
  const evidence = evidenceOf(group)
  const chances = chancesOf(weights, evidence)
  const because = evidence
    .flatMap(({ name, value, text }) => {
      const row = weights.rows.get(name)
      if (!row) return []
      const mean = row.reduce((sum, one) => sum + one, 0) / CAUSES.length
      return CAUSES.map((one, i) => ({
        cause: one,
        text,
        weight: rounded((row[i]! - mean) * value * weights.sharpness),
      }))
    })
    .filter(({ weight }) => weight >= REASON_LEAST)
    .sort((a, b) => b.weight - a.weight)
    .slice(0, REASONS_MOST)
  return {
    likelihoods: Object.fromEntries(CAUSES.map((one, i) => [one, chances[i]!])) as CauseAnswer['likelihoods'],
    because,
  }
}

const rounded = (value: number) => Math.round(value * 100) / 100
const withAlways = (evidence: readonly Evidence[]): Pick<Evidence, 'name' | 'value'>[] => [
  { name: ALWAYS, value: 1 },
  ...evidence,
]

function chancesOf({ rows, sharpness }: Weights, evidence: readonly Evidence[]): Float64Array {
  const sums = new Float64Array(CAUSES.length)
  for (const { name, value } of withAlways(evidence)) {
    const row = rows.get(name)
    if (row) for (let i = 0; i < sums.length; i++) sums[i]! += row[i]! * value * sharpness
  }
  return intoSoftmax(sums)
}

/** The weights that are most likely, given the decisions and what is known at first (maximum a posteriori):
 * accelerated steps down the slope (Nesterov 1983), a fixed number of them, so the same decisions give the
 * same weights. */
export function learnt(decisions: Decisions): Weights {
  return { rows: fitted(decisions), sharpness: sharpnessOf(decisions) }
}

function fitted(decisions: Decisions): Weights['rows'] {
  const names = Object.keys(AT_FIRST)
  const width = CAUSES.length
  const first = Float64Array.from(names.flatMap((name) => [...AT_FIRST[name]!]))
  const told = decisions.map((one) => {
    const parts = withAlways(evidenceOf(one.group))
    return {
      from: Int32Array.from(parts, ({ name }) => names.indexOf(name) * width),
      values: Float64Array.from(parts, ({ value }) => value),
      at: CAUSES.indexOf(one.cause),
    }
  })
  const steepness = told.reduce(
    (sum, { values }) => sum + values.reduce((own, value) => own + value * value, 0),
    0,
  )
  const step = 1 / (PRECISION + steepness / 2)
  const sums = new Float64Array(width)
  let weights = first.slice()
  let before = weights
  for (let round = 1; round <= ROUNDS && told.length > 0; round++) {
    const ahead = weights.map((one, i) => one + ((round - 1) / (round + 2)) * (one - before[i]!))
    const next = ahead.map((one, i) => one + step * PRECISION * (first[i]! - one))
    for (const { from, values, at } of told) {
      sums.fill(0)
      for (let part = 0; part < from.length; part++)
        for (let i = 0; i < width; i++) sums[i]! += ahead[from[part]! + i]! * values[part]!
      intoSoftmax(sums)
      for (let part = 0; part < from.length; part++)
        for (let i = 0; i < width; i++)
          next[from[part]! + i]! += step * values[part]! * ((i === at ? 1 : 0) - sums[i]!)
    }
    before = weights
    weights = next
  }
  return new Map(names.map((name, row) => [name, weights.slice(row * width, (row + 1) * width)]))
}

/** What makes the likelihoods right as often as they are sure (temperature scaling, Guo et al. 2017): each
 * part of the decisions is foretold by weights that were learnt from the others. */
function sharpnessOf(decisions: Decisions): number {
  if (decisions.length < SHARPENED_FROM) return 1
  const parts = Array.from({ length: PARTS }, (_, part) => {
    const rows = fitted(decisions.filter((_one, i) => i % PARTS !== part))
    return decisions
      .filter((_one, i) => i % PARTS === part)
      .map((one) => ({ rows, evidence: evidenceOf(one.group), at: CAUSES.indexOf(one.cause) }))
  }).flat()
  const surprise = (sharpness: number) =>
    parts.reduce(
      (sum, { rows, evidence, at }) => sum - Math.log(chancesOf({ rows, sharpness }, evidence)[at]!),
      0,
    )
  const tried = SHARPNESSES.map((sharpness) => ({ sharpness, surprise: surprise(sharpness) }))
  return tried.toSorted((a, b) => a.surprise - b.surprise)[0]!.sharpness
}

/** In place: it is asked some hundred thousand times where there are many decisions. */
function intoSoftmax(sums: Float64Array): Float64Array {
  let most = -Infinity
  for (const sum of sums) most = Math.max(most, sum)
  let whole = 0
  for (let i = 0; i < sums.length; i++) whole += sums[i] = Math.exp(sums[i]! - most)
  for (let i = 0; i < sums.length; i++) sums[i]! /= whole
  return sums
}
