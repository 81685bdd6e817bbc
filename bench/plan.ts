/** Planning: how near to the optimum on instances whose optimum is known, and how long it takes. */
import { randomFrom } from '../src/core/execution/random'
import { matrix } from '../src/core/planning/matrix'
import { estimate, type PastRun } from '../src/core/planning'
import { plan, type PlanInput } from '../src/core/planning/plan'
import { cutFromFull } from '../src/core/planning/plan/testing/full-seats'
import { outlook } from '../src/core/rota'
import { quantile, report } from './report'

const clock = () => performance.now()

function measure(name: string, input: PlanInput, optimum: number, mostPercent: number, mostMs: number): void {
  const begun = performance.now()
  const { makespanMs, unplaceable, boundMs, cut } = plan(input, clock)
  const ms = performance.now() - begun
  if (unplaceable.length > 0) throw new Error(`${name}: ${unplaceable[0]!.reason}`)
  if (boundMs > optimum) throw new Error(`${name}: the bound ${boundMs} is above a plan of ${optimum}`)
  if (cut) console.log(`      ${name}: the clock ended it`)
  report(`${name}, over a plan that is known`, (makespanMs / optimum - 1) * 100, mostPercent, '%')
  report(`${name}, time`, ms, mostMs, 'ms')
}

const random = randomFrom(20_261_123)
const made = (agents: number, seats: number, each: number, environments: number, ties: number) =>
  cutFromFull({ agents, seats, each, environments, endMs: 600_000, ties, random })
measure('100 items on 10 seats', made(5, 2, 10, 1, 0), 600_000, 1.5, 1500)
measure('200 items on 10 seats, 4 environments', made(5, 2, 20, 4, 0), 600_000, 1.5, 1500)
measure('200 items on 10 seats, following and excluding', made(5, 2, 20, 3, 120), 600_000, 2, 1500)
measure('1,000 items on 20 agents', { ...made(20, 3, 17, 5, 0), budgetMs: 300 }, 600_000, 1.5, 300)
measure(
  '1,000 items on 20 agents, following and excluding',
  { ...made(20, 3, 17, 5, 400), budgetMs: 300 },
  600_000,
  2,
  300,
)
measure('10,000 items on 100 agents', { ...made(100, 4, 25, 8, 0), budgetMs: 3000 }, 600_000, 1.5, 3000)
measure(
  '10,000 items on 100 agents, following and excluding',
  { ...made(100, 4, 25, 8, 3000), budgetMs: 3000 },
  600_000,
  2,
  3000,
)

/** Up to nine items the plan is to be the best there is: cut from full seats, that ends when they were
 * full. */
function fewItems(): void {
  const few = Array.from({ length: 100 }, (_, i) => made(3, 1, 3, 1 + (i % 2), i % 4))
  const missed = few.filter((input) => plan(input, clock).makespanMs > 600_000).length
  report('100 plans of nine items on 3 seats, ending later than need be', missed, 1, 'plans')
}
fewItems()

/** A rotation of 1,000 case runs as its bench computes it with each key: 100 cases on 10 environments, 20
 * agents. */
function outlookOfThousand(): void {
  const environments = Array.from({ length: 10 }, (_, e) => ({
    key: `e${e}`,
    title: `E${e}`,
    browser: `b${e % 3}`,
    os: `o${e % 5}`,
    width: 1280,
    height: 800,
    locale: 'en-GB',
    simulated: true,
  }))
  const items = Array.from({ length: 100 }, (_, i) => ({
    case: `c${i}`,
    title: `C${i}`,
    after: i % 9 === 8 ? [i - 1] : [],
    exclusive: i % 25 === 0 ? ['account'] : [],
    priority: i % 3,
  }))
  const estimates = Object.fromEntries(
    items.map((item) => [
      item.case,
      Object.fromEntries(
        environments.map(({ key }) => {
          const p50Ms = Math.round(3000 + random() * 40_000)
          return [key, { p50Ms, p90Ms: Math.round(p50Ms * (1.1 + random())), failRate: random() * 0.1 }]
        }),
      ),
    ]),
  )
  const agents = Array.from({ length: 20 }, (_, a) => ({
    name: `agent-${a}`,
    pool: 'P',
    seats: 3,
    environments: environments.filter((_, e) => (e + a) % 4 > 0).map(({ key }) => key),
  }))
  const rotation = {
    where: {
      environments: environments.map(({ key }) => key),
      cover: 'all' as const,
      never: [],
      always: [],
      spread: 'split' as const,
      leaveOut: false,
      lanes: {},
    },
    retries: 1,
  }
  const times = Array.from({ length: 7 }, () => {
    const begun = performance.now()
    const found = outlook(rotation, { items, estimates, environments, agents }, { clock })
    if (found.caseRuns !== 1000 || found.unplaceable.length > 0)
      throw new Error('not all of the 1,000 were planned')
    return performance.now() - begun
  })
  report('outlook of 1,000 case runs, median time', quantile(times, 0.5), 300, 'ms')
  report('outlook of 1,000 case runs, longest of seven', quantile(times, 1), 300, 'ms')
}
outlookOfThousand()

const axes = (...groups: [number, number][]) =>
  Object.fromEntries(
    groups.flatMap(([levels, factors], g) =>
      Array.from({ length: factors }, (_, f) => [
        `axis${g}x${f}`,
        Array.from({ length: levels }, (_, l) => `v${l}`),
      ]),
    ),
  )
for (const [name, given, most] of [
  ['3^4', axes([3, 4]), 9],
  ['3^13', axes([3, 13]), 15],
  ['10^20', axes([10, 20]), 195],
  ['4^15 3^17 2^29', axes([4, 15], [3, 17], [2, 29]), 32],
  ['2^100', axes([2, 100]), 10],
] as const) {
  const begun = performance.now()
  const { rows, uncovered } = matrix({ axes: given, strength: 2 }, clock)
  if (uncovered.length > 0) throw new Error(`${name} is not covered`)
  report(`pairs of ${name}, rows`, rows.length, most, 'rows')
  report(`pairs of ${name}, time`, performance.now() - begun, 5000, 'ms')
}

/** Runs of 60 cases on 5 environments for 26 days, each with its level and its noise; what `held` days after
 * them took is what the estimates are held against.
 * @param chance that a case runs on an environment on a day; `tails`: a share that takes two to four times as
 * long */
function madeHistory({ chance, tails, held = 5 }: { chance: number; tails: number; held?: number }): {
  history: PastRun[]
  later: PastRun[]
  now: string
} {
  const [days, dayMs, end] = [26, 86_400_000, Date.UTC(2026, 10, 23)]
  const gaussian = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())
  const factors = Array.from({ length: 5 }, () => gaussian() * 0.35)
  const cases = Array.from({ length: 60 }, () => ({
    level: 9.5 + gaussian() * 0.9,
    noise: 0.08 + random() * 0.25,
  }))
  const runs = Array.from({ length: days }, (_, day) =>
    cases.flatMap(({ level, noise }, c) =>
      factors.flatMap((factor, e): PastRun[] => {
        if (random() >= chance) return []
        const [fails, slow] = [random() < 0.05, random() < tails ? Math.log(2 + 2 * random()) : 0]
        return [
          {
            case: `c${c}`,
            environment: `e${e}`,
            ms: Math.round(Math.exp(level + factor + gaussian() * noise + slow) * (fails ? random() : 1)),
            endedAt: new Date(end - (days - day) * dayMs).toISOString(),
            outcome: fails ? 'failed' : 'passed',
          },
        ]
      }),
    ),
  ).flat()
  const now = new Date(end - held * dayMs).toISOString()
  return {
    history: runs.filter(({ endedAt }) => endedAt < now),
    later: runs.filter(({ endedAt, outcome }) => endedAt >= now && outcome === 'passed'),
    now,
  }
}

for (const [name, made] of [
  ['daily', { chance: 1, tails: 0 }],
  ['now and then', { chance: 0.1, tails: 0 }],
  ['with slow ones among them', { chance: 0.6, tails: 0.06 }],
] as const) {
  const { history, later, now } = madeHistory(made)
  const estimates = estimate({
    history,
    wanted: later.map(({ case: key, environment }) => ({ case: key, environment })),
    now,
  })
  const under = (bound: 'p50Ms' | 'p90Ms') =>
    (100 * later.filter(({ ms }, i) => ms <= estimates[i]![bound]).length) / later.length
  report(
    `estimates from runs ${name}: ${later.length} later ones under p50, off a half by`,
    Math.abs(under('p50Ms') - 50),
    5,
    'points',
  )
  report(
    `estimates from runs ${name}: under p90, off nine tenths by`,
    Math.abs(under('p90Ms') - 90),
    4,
    'points',
  )
}
