/** Whether a build can go out, and what speaks against it: sentences, each with what it speaks of. */
import { plural } from '../model'
import type { Coverage } from './coverage'
import type { Importance } from './requirement'

/** `stops`: with it, it should not go out; `doubt`: nobody can tell with it. */
const WEIGHTS = ['stops', 'doubt', 'note', 'good'] as const
export type Weight = (typeof WEIGHTS)[number]
export type Speaking = {
  about: ReleaseTopic
  weight: Weight
  text: string
  of: { words: string; path: string }[]
  /** Of those that are not named. */
  more: number
}
export const RELEASE_TOPICS = [
  'runs',
  'requirements-failing',
  'requirements-open',
  'defects',
  'causes',
  'unlooked',
  'going',
  'product',
  'excused',
  'not-run',
  'rehearsed',
  'quarantined',
  'before',
] as const
export type ReleaseTopic = (typeof RELEASE_TOPICS)[number]

export type ReleaseSheet = { build: string; before: string | null; verdict: Verdict; speaks: Speaking[] }
/** `unknown`: not enough is known of it. */
export type Verdict = 'go' | 'stop' | 'unknown'

type Counted = { key: string; title: string; importance: Importance; coverage: Coverage }
type Named = { key: string; title: string }
export type ReleaseInput = {
  build: string
  /** The build before, where there was one. */
  before: { build: string; good: number; failing: number } | null
  /** Of this build: the newest of each case on each environment. `unlooked`: runs of which failures count
   * that were not told apart by causes. `going`: runs with it that go on. */
  results: { good: number; failing: number; runs: number; unlooked: number; going: number }
  requirements: readonly Counted[]
  /** Defects that were found with it. */
  defects: readonly { id: number; title: string; severity: string; isOver: boolean }[]
  /** Causes of its failures. `decision`: what was decided of it with this build. `isGoneSince`: what failed
   * by it passed later. */
  causes: readonly {
    signature: string
    title: string
    failures: number
    decision: string | null
    isGoneSince: boolean
    runId: number
  }[]
  /** Cases that ran with the build before, or are evidence for a requirement, and not with this one. */
  notRun: readonly Named[]
  /** Of those: tried by people with this build, which counts for nothing. */
  rehearsed: readonly Named[]
  quarantined: readonly (Named & { until: string; because: string })[]
}

const GRAVE: ReadonlySet<string> = new Set(['critical', 'high'])
/** Named in a sentence; of more the number is told. */
const NAMED_MOST = 8

export function releaseSheet(input: ReleaseInput): ReleaseSheet {
  const speaks = [
    runs(input),
    failing(input),
    open(input),
    defects(input),
    causes(input),
    unlooked(input),
    going(input),
    ofProduct(input),
    excused(input),
    notRun(input),
    rehearsed(input),
    quarantined(input),
    compared(input),
  ].flatMap((one) => one ?? [])
  const [ran, ...others] = speaks
  others.sort((a, b) => WEIGHTS.indexOf(a.weight) - WEIGHTS.indexOf(b.weight))
  const has = (weight: Weight) => speaks.some((one) => one.weight === weight)
  const otherwise = has('doubt') ? 'unknown' : 'go'
  const verdict = has('stops') ? 'stop' : otherwise
  return { build: input.build, before: input.before?.build ?? null, verdict, speaks: [ran!, ...others] }
}

const say = (
  about: ReleaseTopic,
  weight: Weight,
  text: string,
  of: readonly { words: string; path: string }[] = [],
): Speaking => ({
  about,
  weight,
  text,
  of: of.slice(0, NAMED_MOST),
  more: Math.max(0, of.length - NAMED_MOST),
})

const ofCase = ({ key, title }: Named) => ({ words: title, path: `/cases/${encodeURIComponent(key)}` })
const areOf = (count: number) => (count === 1 ? 'is' : 'are')

function runs({ build, results: { good, failing, runs } }: ReleaseInput): Speaking {
  const all = good + failing
  if (all === 0) return say('runs', 'doubt', `Nothing ran to its end with ${build}.`)
  const ran = `in ${plural(runs, 'run')}, each case on each of its environments counted once`
  if (failing === 0) return say('runs', 'good', `All ${all} passed at the end, ${ran}.`)
  return say('runs', 'note', `${good} of ${all} passed at the end, ${ran}.`)
}

const ofRequirement = ({ key, title }: Counted) => ({
  words: `${key} ${title}`,
  path: `#requirement-${encodeURIComponent(key)}`,
})

function failing({ requirements }: ReleaseInput): Speaking | undefined {
  const those = requirements.filter(({ coverage }) => coverage === 'failing')
  if (those.length === 0) {
    const all = requirements.length > 0 && requirements.every(({ coverage }) => coverage === 'passing')
    const count = requirements.length
    const met = count === 1 ? 'The requirement is met' : `All ${count} requirements are met`
    return all ? say('requirements-failing', 'good', `${met} on all that ran.`) : undefined
  }
  const must = those.filter(({ importance }) => importance === 'must')
  const text = `${plural(those.length, 'requirement')} ${areOf(those.length)} not met${
    must.length > 0 ? `, ${must.length} of them a must` : '; none of them is a must'
  }.`
  return say('requirements-failing', must.length > 0 ? 'stops' : 'note', text, those.map(ofRequirement))
}

const OPEN: Partial<Record<Coverage, string>> = {
  uncovered: 'no case is evidence for',
  'not-run': 'nothing ran for',
  partly: 'only a part ran for',
}

function open({ requirements }: ReleaseInput): Speaking[] {
  return (Object.entries(OPEN) as [Coverage, string][]).flatMap(([coverage, words]) => {
    const those = requirements.filter((one) => one.coverage === coverage)
    if (those.length === 0) return []
    const must = those.filter(({ importance }) => importance === 'must').length
    const text =
      `There ${areOf(those.length)} ${plural(those.length, 'requirement')} that ` +
      `${words}${must > 0 ? `, ${must} of them a must` : ''}.`
    return say('requirements-open', must > 0 ? 'doubt' : 'note', text, those.map(ofRequirement))
  })
}

function defects({ defects: all }: ReleaseInput): Speaking | undefined {
  const open = all.filter(({ isOver }) => !isOver)
  if (open.length === 0) return undefined
  const grave = open.filter(({ severity }) => GRAVE.has(severity)).length
  const text =
    `${plural(open.length, 'defect')} found with it ${areOf(open.length)} ` +
    `open${grave > 0 ? `, ${grave} of them high or critical` : ''}.`
  const named = open.map(({ id, title }) => ({ words: title, path: `/defects?id=${id}` }))
  return say('defects', grave > 0 ? 'stops' : 'note', text, named)
}

const ofCause = ({ title, runId }: ReleaseInput['causes'][number]) => ({
  words: title,
  path: `/runs/${runId}?view=causes`,
})

function causes({ causes: all }: ReleaseInput): Speaking | undefined {
  const undecided = all.filter(
    ({ decision, isGoneSince }) => !isGoneSince && (decision ?? 'unclear') === 'unclear',
  )
  if (undecided.length === 0) return undefined
  const count = undecided.length
  return say(
    'causes',
    'doubt',
    `What ${plural(count, 'cause')} of failures ${areOf(count)}, nobody has decided.`,
    undecided.map(ofCause),
  )
}

function unlooked({ results: { unlooked: count } }: ReleaseInput): Speaking | undefined {
  if (count === 0) return undefined
  const text = `The failures of ${plural(count, 'run')} are not told apart: nobody could decide them.`
  return say('unlooked', 'doubt', text)
}

function going({ results: { going: count } }: ReleaseInput): Speaking | undefined {
  if (count === 0) return undefined
  return say('going', 'doubt', `${plural(count, 'run')} with it ${count === 1 ? 'goes' : 'go'} on.`)
}

/** What is known has a defect, which says how grave it is. */
function ofProduct({ causes: all }: ReleaseInput): Speaking[] {
  const weigh: [string, Weight, string][] = [
    ['product-defect', 'doubt', 'decided to be of the product'],
    ['known-defect', 'note', 'known as defects'],
    ['intended-change', 'note', 'said to be intended'],
  ]
  return weigh.flatMap(([as, weight, words]) => {
    const those = all.filter(({ decision, isGoneSince }) => !isGoneSince && decision === as)
    if (those.length === 0) return []
    const count = those.length
    const text =
      `${plural(count, 'cause')} ${areOf(count)} ${words}, and what failed by ` +
      `${count === 1 ? 'it' : 'them'} has not passed since.`
    return say('product', weight, text, those.map(ofCause))
  })
}

/** Called a fault of the environment, the test or its data, and nothing has passed there since. */
const EXCUSES: ReadonlySet<string> = new Set(['environment-fault', 'test-fault', 'test-data', 'no-failure'])

function excused({ causes: all }: ReleaseInput): Speaking | undefined {
  const those = all.filter(({ decision, isGoneSince }) => !isGoneSince && EXCUSES.has(decision ?? ''))
  if (those.length === 0) return undefined
  const count = those.length
  return say(
    'excused',
    'note',
    `${plural(count, 'cause')} ${areOf(count)} said to be none of the product, and what failed by ` +
      `${count === 1 ? 'it' : 'them'} has not passed since.`,
    those.map(ofCause),
  )
}

function notRun({ notRun: those, before }: ReleaseInput): Speaking | undefined {
  if (those.length === 0) return undefined
  const naming = those.length === 1 ? 'names a requirement' : 'name a requirement'
  const why = before ? `ran with ${before.build} or ${naming}` : naming
  return say('not-run', 'note', `${plural(those.length, 'case')} did not run that ${why}.`, those.map(ofCase))
}

function rehearsed({ rehearsed: those }: ReleaseInput): Speaking | undefined {
  if (those.length === 0) return undefined
  const text =
    `${plural(those.length, 'case')} of those ${those.length === 1 ? 'was' : 'were'} only rehearsed, ` +
    'which counts for nothing.'
  return say('rehearsed', 'note', text, those.map(ofCase))
}

function quarantined({ quarantined: those }: ReleaseInput): Speaking | undefined {
  if (those.length === 0) return undefined
  const text =
    `${plural(those.length, 'case')} ${areOf(those.length)} in quarantine: what they find counts for ` +
    'nothing.'
  return say('quarantined', 'note', text, those.map(ofCase))
}

function compared({ before, results }: ReleaseInput): Speaking | undefined {
  if (!before || before.good + before.failing === 0) return undefined
  const share = ({ good, failing }: { good: number; failing: number }) =>
    Math.round((1000 * good) / (good + failing)) / 10
  const all = before.good + before.failing
  const text =
    results.good + results.failing === 0
      ? `With ${before.build} ${share(before)} % of ${all} passed at the end.`
      : `Of all that ran ${share(results)} % passed at the end; with ${before.build} it was ` +
        `${share(before)} % of ${all}.`
  return say('before', 'note', text)
}
