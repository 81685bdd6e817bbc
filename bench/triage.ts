/** Failures told apart: groups against labels, how long many take, and one more; known defects in other
 * words; where failures happen; what people decided, foretold. */
import { randomFrom } from '../src/core/execution/random'
import { cause, causeBy, CAUSES, group, learnt, signatureOf, similar, where } from '../src/core/triage'
import { DEFECTS, NEW_ONES } from '../src/core/triage/testing/defects'
import { adjustedRand, labelled, OTHERS, SERVICES, WEB } from '../src/core/triage/testing/failures'
import { report } from './report'

const ALL = [...WEB, ...SERVICES, ...OTHERS]
for (const [name, causes] of [
  ['web interfaces', WEB],
  ['services', SERVICES],
  ['other programs', OTHERS],
  ['all', ALL],
] as const) {
  const failures = labelled(causes, 20, 7)
  const of = new Map<string, string>()
  for (const { signature, members } of group({ failures: failures.map(({ failure }) => failure) }))
    for (const id of members) of.set(id, signature)
  const index = adjustedRand(
    failures.map(({ cause: label }) => label),
    failures.map(({ failure }) => of.get(failure.id)!),
  )
  report(`groups of ${name}, what is missing to a Rand index of 1`, 1 - index, 0.05, '')
}

const many = labelled(ALL, Math.ceil(50_000 / ALL.length), 5).map(({ failure }) => failure)
const msOf = (work: () => unknown): number => {
  const begun = performance.now()
  work()
  return performance.now() - begun
}
const tenth = msOf(() => group({ failures: many.slice(0, many.length / 10) }))
const whole = msOf(() => group({ failures: many }))
report(`groups of ${many.length} failures`, whole, 5000, 'ms')
report('the same, beside ten times a tenth of them', whole / (10 * tenth), 1.3, '')
report('the signature of one more', msOf(() => many.slice(0, 1000).forEach(signatureOf)) / 1000, 5, 'ms')

const known = DEFECTS.map(([[title, text]], i) => ({ id: String(i), title, text }))
const asked = (told: readonly [string, string]) =>
  similar({ draft: { title: told[0], text: told[1] }, defects: known })
const again = DEFECTS.flatMap(([, ...told], i) => told.map((one) => ({ id: String(i), found: asked(one) })))
const missed = again.filter(({ id, found }) => !found.slice(0, 3).some((one) => one.id === id))
report(`known defects not among the first three, of ${again.length}`, missed.length, again.length * 0.05, '')
const news = NEW_ONES.map((told) => asked(told)[0]!.score)
let wins = 0
for (const { found } of again) for (const score of news) wins += (Math.sign(found[0]!.score - score) + 1) / 2
report(
  'known against new, what is missing to an area of 1',
  1 - wins / (again.length * news.length),
  0.05,
  '',
)

const next = randomFrom(7)
const rows = Array.from({ length: 20_000 }, () => {
  const factors = {
    browser: `b${Math.floor(next() * 3)}`,
    os: `o${Math.floor(next() * 4)}`,
    build: `v${Math.floor(next() * 5)}`,
    agent: `a${Math.floor(next() * 40)}`,
    hour: Math.floor(next() * 24),
  }
  return { failed: next() < (factors.browser === 'b1' && factors.os === 'o2' ? 0.4 : 0.03), factors }
})
report(
  'where, of 20,000 rows with five factors',
  msOf(() => where({ rows })),
  2000,
  'ms',
)

const fact = () => ({
  kinds: { [['check', 'target', 'agent', 'data'][Math.floor(next() * 4)]!]: 3 },
  failures: 3,
  cases: 1 + Math.floor(next() * 5),
  environments: { failed: 1 + Math.floor(next() * 3), of: 3 },
  where: [],
  newInBuild: next() < 0.5,
  flakyBefore: next() * 0.4,
  agents: { involved: 2, unhealthy: Math.floor(next() * 3) },
  recovered: next() * 0.5,
  similar: [],
})
/** People decide as the model would at first, and one in four otherwise. */
const decided = () => {
  const facts = fact()
  const { likelihoods } = cause({ group: facts })
  const [usual] = CAUSES.toSorted((a, b) => likelihoods[b] - likelihoods[a])
  return { group: facts, cause: next() < 0.75 ? usual! : CAUSES[Math.floor(next() * CAUSES.length)]! }
}
const decisions = Array.from({ length: 300 }, decided)
const weights = learnt(decisions)
const bins = new Map<number, { sure: number; right: number; count: number }>()
for (let i = 0; i < 1000; i++) {
  const one = decided()
  const { likelihoods } = causeBy(weights, one.group)
  for (const name of CAUSES) {
    const bin = Math.min(9, Math.floor(likelihoods[name] * 10))
    const { sure, right, count } = bins.get(bin) ?? { sure: 0, right: 0, count: 0 }
    bins.set(bin, {
      sure: sure + likelihoods[name],
      right: right + Number(one.cause === name),
      count: count + 1,
    })
  }
}
const error = [...bins.values()].reduce((sum, { sure, right }) => sum + Math.abs(sure - right), 0) / 6000
report('causes: how far likelihoods are from how often they are right', error, 0.05, '')
report(
  'learning from 300 decisions',
  msOf(() => learnt(decisions)),
  2000,
  'ms',
)
