/** The morning's sentences, from facts. Nothing is said that was not counted. */
import { endedOf, totalOf, type Counts } from '../execution'
import { describeAgo, plural } from '../model'
import type { BriefingPart } from './now-types'

export type BriefingFacts = {
  /** The largest run that ended in the last 24 hours, if any. */
  last?: {
    id: number
    title: string
    build: string
    endedAgoMs: number
    counts: Counts
    failingCases: number
    /** `attemptId`: null for what was made elsewhere or never begun. */
    newFailing: { title: string; attemptId: string | null; environments: number; ofEnvironments: number }[]
    previousTitle?: string
  }
  running: { id: number; title: string; counts: Counts }[]
  agents: { alive: number; all: number; lost: string[] }
  defectsWaiting: number
  suites: number
}

const list = (parts: BriefingPart[][]): BriefingPart[] =>
  parts.flatMap((part, i) => (i === 0 ? part : [{ text: i === parts.length - 1 ? ' and ' : ', ' }, ...part]))

/** New failures named in the briefing; the rest is a number. */
const NAMED_MOST = 2

export function briefing(facts: BriefingFacts): BriefingPart[] {
  return [...lastRun(facts), ...running(facts), ...agents(facts), ...defects(facts)]
}

function lastRun({ last, suites, running }: BriefingFacts): BriefingPart[] {
  if (!last) {
    if (running.length > 0) return []
    return suites === 0
      ? [
          { text: 'There are no suites yet. ' },
          { text: 'Read a repository', href: '/suites' },
          { text: ' with case files to begin. ' },
        ]
      : [
          { text: 'Nothing ran in the last day. ' },
          { text: plural(suites, 'suite'), href: '/suites' },
          { text: suites === 1 ? ' is ready to start. ' : ' are ready to start. ' },
        ]
  }
  const { counts } = last
  const href = `/runs/${last.id}`
  const bad = (['failed', 'errored'] as const).filter((mark) => counts[mark] > 0)
  const others = (['skipped', 'cancelled'] as const).filter((mark) => counts[mark] > 0)
  const results: BriefingPart[][] = [
    [{ text: `${counts.passed} of ${totalOf(counts)} passed`, href, tone: 'passed' }],
  ]
  if (counts.recovered > 0)
    results.push([
      { text: `${counts.recovered} recovered`, href: `${href}?only=recovered`, tone: 'recovered' },
    ])
  for (const mark of bad) {
    const where = mark === bad.at(-1) ? ` in ${plural(last.failingCases, 'case')}` : ''
    results.push([{ text: `${counts[mark]} ${mark}${where}`, href: `${href}?only=failed`, tone: mark }])
  }
  for (const mark of others) results.push([{ text: `${counts[mark]} ${mark}`, href }])
  return [
    { text: `${last.title} ended ${describeAgo(last.endedAgoMs)}: ` },
    ...list(results),
    { text: bad.length + others.length === 0 ? '; nothing failed. ' : '. ' },
    ...newFailures(last),
  ]
}

function newFailures({
  id,
  newFailing,
  previousTitle,
  build,
}: NonNullable<BriefingFacts['last']>): BriefingPart[] {
  if (newFailing.length === 0 || !previousTitle) return []
  const named = newFailing.slice(0, NAMED_MOST).map(({ title, attemptId, environments, ofEnvironments }) => [
    {
      text: title,
      href: attemptId === null ? `/runs/${id}?only=failed` : `/attempts/${attemptId}`,
      tone: 'mark' as const,
    },
    {
      text:
        environments === ofEnvironments
          ? ' on every environment'
          : ` on ${environments} of ${plural(ofEnvironments, 'environment')}`,
    },
  ])
  const rest = newFailing.length - named.length
  return [
    { text: `New since ${previousTitle}, with build ${build}: ` },
    ...list([...named, ...(rest > 0 ? [[{ text: `${rest} more` }]] : [])]),
    { text: '. ' },
  ]
}

function running({ running: runs }: BriefingFacts): BriefingPart[] {
  if (runs.length === 0) return []
  const parts = runs.map(({ id, title, counts }): BriefingPart[] => [
    { text: title, href: `/runs/${id}`, tone: 'running' },
    { text: ` (${endedOf(counts)} of ${totalOf(counts)})` },
  ])
  return [...list(parts), { text: runs.length === 1 ? ' is running. ' : ' are running. ' }]
}

function agents({ agents: { alive, all, lost } }: BriefingFacts): BriefingPart[] {
  if (all === 0)
    return [{ text: 'No agent has registered yet. ' }, { text: 'Add one', href: '/fleet' }, { text: '.' }]
  if (lost.length === 0) return alive === all && all > 1 ? [{ text: `All ${all} agents are here. ` }] : []
  const names = lost.length <= 3 ? lost.join(', ') : `${lost.length} of ${all} agents`
  return [
    { text: names, href: '/fleet', tone: 'errored' },
    { text: lost.length === 1 ? ' is not heard from. ' : ' are not heard from. ' },
  ]
}

function defects({ defectsWaiting }: BriefingFacts): BriefingPart[] {
  if (defectsWaiting === 0) return []
  return [
    { text: plural(defectsWaiting, 'defect'), href: '/defects' },
    { text: defectsWaiting === 1 ? ' waits for the tracker.' : ' wait for the tracker.' },
  ]
}

/** "Monday morning" by the reader's clock. */
/** From which hour on a part of the day counts. */
const PARTS_OF_DAY: [from: number, part: string][] = [
  [0, 'night'],
  [5, 'morning'],
  [12, 'afternoon'],
  [18, 'evening'],
]

export function greeting(weekday: string, hour: number): string {
  const [, part] = PARTS_OF_DAY.findLast(([from]) => hour >= from)!
  return `${weekday} ${part}`
}
