/** How the work on failures goes, week by week, and what each rotation brings for what it takes. */
import { groupBy } from '../model'
import type { DecisionKind } from './decisions'

export const WEEK_MS = 604_800_000

export type MeasuresInput = {
  /** Until when, as ISO 8601; the weeks end there. */
  until: string
  weeks: number
  /** Decisions that hold. `runEndedAt`: of the run it was made in. */
  decisions: readonly {
    at: string
    by: string
    as: DecisionKind
    signature: string
    runEndedAt: string | null
  }[]
  /** Causes of each run that ended. */
  found: readonly { at: string; signature: string; failures: number; rotation: string | null }[]
  /** When defects were logged, and when some were opened again. */
  defects: { logged: readonly string[]; reopened: readonly string[] }
  /** Runs of rotations. `seatMs`: time that seats spent on them. */
  runs: readonly { rotation: string; caseRuns: number; failures: number; seatMs: number }[]
}

/** `afterMs`: between the end of the run and the decision, in the middle; `null`: nothing was decided.
 * `together`: of the decisions, those that somebody made of several causes at once. */
export type WeekMeasures = {
  from: string
  failures: number
  causes: number
  decisions: number
  together: number
  afterMs: number | null
  /** Defects that were logged. */
  logged: number
  /** Defects that were over, or said to be mended, and were opened again. */
  reopened: number
}
/** `defects`: of its causes, those that are decided to be of the product. */
export type RotationMeasures = {
  rotation: string
  runs: number
  caseRuns: number
  failures: number
  seatMs: number
  causes: number
  defects: number
}
export type Measures = { weeks: WeekMeasures[]; rotations: RotationMeasures[] }

const OF_PRODUCT: ReadonlySet<DecisionKind> = new Set(['product-defect', 'known-defect'])

/** @returns the newest week first; the rotation that took the most first. Moments outside the weeks are left
 * out. */
export function measuresOf({ until, weeks, decisions, found, defects, runs }: MeasuresInput): Measures {
  const end = Date.parse(until)
  const weekOf = (at: string) => Math.ceil((end - Date.parse(at)) / WEEK_MS) || 1
  const decisionsOf = groupBy(decisions, ({ at }) => weekOf(at))
  const foundOf = groupBy(found, ({ at }) => weekOf(at))
  const [loggedOf, reopenedOf] = [groupBy(defects.logged, weekOf), groupBy(defects.reopened, weekOf)]
  const ofProduct = new Set(
    decisions.filter(({ as }) => OF_PRODUCT.has(as)).map(({ signature }) => signature),
  )
  const causesOf = groupBy(
    found.filter(({ rotation }) => rotation !== null),
    ({ rotation }) => rotation!,
  )
  return {
    weeks: Array.from({ length: weeks }, (_, i) => {
      const week = i + 1
      const causes = foundOf.get(week) ?? []
      return {
        from: new Date(end - week * WEEK_MS).toISOString(),
        failures: sum(causes.map(({ failures }) => failures)),
        causes: new Set(causes.map(({ signature }) => signature)).size,
        ...decided(decisionsOf.get(week) ?? []),
        logged: loggedOf.get(week)?.length ?? 0,
        reopened: reopenedOf.get(week)?.length ?? 0,
      }
    }),
    rotations: [...groupBy(runs, ({ rotation }) => rotation)]
      .map(([rotation, own]): RotationMeasures => {
        const signatures = new Set((causesOf.get(rotation) ?? []).map(({ signature }) => signature))
        return {
          rotation,
          runs: own.length,
          caseRuns: sum(own.map(({ caseRuns }) => caseRuns)),
          failures: sum(own.map(({ failures }) => failures)),
          seatMs: sum(own.map(({ seatMs }) => seatMs)),
          causes: signatures.size,
          defects: [...signatures].filter((one) => ofProduct.has(one)).length,
        }
      })
      .toSorted((a, b) => b.seatMs - a.seatMs || (a.rotation < b.rotation ? -1 : 1)),
  }
}

const sum = (numbers: readonly number[]) => numbers.reduce((all, one) => all + one, 0)

function decided(own: MeasuresInput['decisions']): Pick<WeekMeasures, 'decisions' | 'together' | 'afterMs'> {
  // decisions of one moment are of one transaction: somebody made them at once
  const moments = groupBy(own, ({ at, by }) => `${at}\n${by}`)
  const after = own
    .flatMap(({ at, runEndedAt }) => (runEndedAt === null ? [] : Date.parse(at) - Date.parse(runEndedAt)))
    .filter((ms) => ms >= 0)
    .toSorted((a, b) => a - b)
  const [low, high] = [after[Math.ceil(after.length / 2) - 1], after[Math.floor(after.length / 2)]]
  return {
    decisions: own.length,
    together: sum([...moments.values()].map(({ length }) => (length > 1 ? length : 0))),
    afterMs: low === undefined || high === undefined ? null : Math.round((low + high) / 2),
  }
}
