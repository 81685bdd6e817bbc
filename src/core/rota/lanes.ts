/** What is given to agents by hand: a case wherever it runs (`board`), or on one environment
 * (`board@chromium-debian`), which goes before. */

export type Lanes = Readonly<Record<string, string>>
/** What runs, and what is planned of it, as far as lanes go. */
type Items = { items: readonly { case: string; title: string; phase?: string }[] }
type Planned = {
  picked: { keys: readonly string[] }
  lanes: readonly { agent: string; items: readonly { work: string }[] }[]
}
/** A case on an environment. */
export type LanePiece = { case: string; title: string; environment: string }

const keyOf = (testCase: string, environment: string) => `${testCase}@${environment}`

/** The agent a case is given to on an environment; `undefined`: nobody. */
export const laneOf = (lanes: Lanes, testCase: string, environment: string): string | undefined =>
  lanes[keyOf(testCase, environment)] ?? lanes[testCase]

/** Reads a key of lanes. */
export function readLaneKey(key: string): { case: string; environment?: string } {
  const at = key.indexOf('@')
  return at < 0 ? { case: key } : { case: key.slice(0, at), environment: key.slice(at + 1) }
}

/** What there is to give: every case on every environment it runs on, in the order of what runs. What is done
 * once, before and after all, is given to nobody. */
export function lanePieces({ items }: Items, environments: readonly string[]): LanePiece[] {
  const titles = new Map(items.flatMap((item) => (item.phase ? [] : [[item.case, item.title] as const])))
  return [...titles].flatMap(([testCase, title]) =>
    environments.map((environment) => ({ case: testCase, title, environment })),
  )
}

/** The lanes with one piece given to another agent, or to nobody. What was said of the case everywhere is
 * said of each of its environments then. */
export function withLane(
  lanes: Lanes,
  { case: testCase, environment }: Pick<LanePiece, 'case' | 'environment'>,
  agent: string | undefined,
  environments: readonly string[],
): Record<string, string> {
  const { [testCase]: everywhere, ...others } = lanes
  const apart =
    everywhere === undefined
      ? {}
      : Object.fromEntries(environments.map((one) => [keyOf(testCase, one), everywhere]))
  const { [keyOf(testCase, environment)]: _, ...rest } = { ...apart, ...others }
  return gathered(
    agent === undefined ? rest : { ...rest, [keyOf(testCase, environment)]: agent },
    environments,
  )
}

/** Lanes as the plan has them, to begin from. */
export function lanesOfPlan({ lanes, picked }: Planned, { items }: Items): Record<string, string> {
  const found: Record<string, string> = {}
  for (const { agent, items: pieces } of lanes)
    for (const { work } of pieces) {
      const [place, environment = ''] = work.replace(/@.*$/, '').split(' ')
      const item = items[Number(place)]
      if (item && !item.phase) found[keyOf(item.case, environment)] ??= agent
    }
  return gathered(found, picked.keys)
}

/** A case that is with one agent on all environments is said once. */
function gathered(lanes: Lanes, environments: readonly string[]): Record<string, string> {
  const cases = [...new Set(Object.keys(lanes).map((key) => readLaneKey(key).case))]
  return Object.fromEntries(
    cases.flatMap((testCase): [string, string][] => {
      const agents = environments.map((environment) => laneOf(lanes, testCase, environment))
      const [first] = agents
      if (first !== undefined && agents.every((agent) => agent === first)) return [[testCase, first]]
      return Object.entries(lanes).filter(([key]) => readLaneKey(key).case === testCase)
    }),
  )
}
