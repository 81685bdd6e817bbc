/** Outlooks of rotations as they are, kept for a while: the rota asks for all of them with every look. */
import { NEWEST_BUILD, type FlatItem, type Lacking, type Rotation } from '@/core/model'
import type { Outlook, OutlookBasis } from '@/core/rota'
import type { Fault } from '@/core/compute'
import { listApplications, listBuilds, listEnvironments } from '@/db/workspace'
import type { Context } from '../context'
import { loadLibrary, type Loaded } from '../definitions'
import { Problem } from '../http/problems'
import { planned } from '../planning'
import { basisOf, chosenItems, chosenSuite, isHindered, lackingOf, lackingWords } from '../runs'

/** What was learned from runs since is not in it for so long. */
const KEPT_MS = 5 * 60_000
type Kept = { until: number; fleet: string; outlook: RotationOutlook }
export type RotationOutlook = { outlook?: Outlook; basis?: OutlookBasis; faults: Fault[]; lacking: Lacking[] }
const kept = new WeakMap<Loaded, Map<string, Kept>>()

/** @param fleet changes when seats come or go */
export async function outlookOf(ctx: Context, rotation: Rotation, fleet: string): Promise<RotationOutlook> {
  const library = await loadLibrary(ctx)
  const known = kept.get(library) ?? new Map<string, Kept>()
  kept.set(library, known)
  const before = known.get(rotation.key)
  if (before && before.until > Date.now() && before.fleet === fleet) return before.outlook
  const outlook = await compute(ctx, rotation, library)
  known.set(rotation.key, { until: Date.now() + KEPT_MS, fleet, outlook })
  return outlook
}

async function compute(ctx: Context, rotation: Rotation, library: Loaded): Promise<RotationOutlook> {
  try {
    const environments = (await listEnvironments(ctx.db)).map(({ facts }) => facts)
    const choice = { parts: rotation.what, with: rotation.with }
    const { items } = chosenItems(choice, chosenSuite(choice, library), library)
    const basis = await basisOf(ctx, items, library, environments, rotation)
    const outlook = await planned(ctx, rotation, basis)
    const lacking = await lackingOf(ctx, items, library)
    const faults = [...outlook.faults, ...(await startFaults(ctx, rotation, lacking, items))]
    return { outlook, basis, faults, lacking }
  } catch (error) {
    if (error instanceof Problem) return { faults: [{ path: 'what', message: error.message }], lacking: [] }
    throw error
  }
}

/** What a start would be refused for, besides what the plan says. */
export async function startFaults(
  ctx: Pick<Context, 'db'>,
  { build, stage }: Pick<Rotation, 'build' | 'stage'>,
  lacking: readonly Lacking[],
  items: readonly Pick<FlatItem, 'caseKey'>[],
): Promise<Fault[]> {
  const faults: Fault[] = []
  if (build === NEWEST_BUILD && (await listBuilds(ctx.db)).length === 0)
    faults.push({ path: 'build', message: 'no build is known yet: name one, or add it in Settings' })
  if (
    stage !== undefined &&
    !(await listApplications(ctx.db)).some(({ stages }) => Object.hasOwn(stages, stage))
  )
    faults.push({ path: 'stage', message: `no application has a stage “${stage}”` })
  if (isHindered(lacking, items)) faults.push({ path: 'what', message: lackingWords(lacking) })
  return faults
}
