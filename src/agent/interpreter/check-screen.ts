/** The check of a screen: it is taken, and compared with the one that was accepted for its case, its name and
 * its environment. */
import { NOT_YET_ACCEPTED, type StepOf } from '@/core/model'
import type { ScreenCheck } from '@/core/execution'
import type { ComparedPicture, ScreenWanted } from '../driver/eyes'
import { StepFault, Stopped } from './fault'
import { filledTarget, left, limitOf, type Done, type StepParts } from './parts'

/** Between two looks at a screen that is not yet as it was accepted. */
const LOOK_AGAIN_MS = 250
/** A screen that nobody accepted yet is taken once it no longer changes, or after this time. */
const STILL_WITHIN_MS = 3000
const REGIONS_MOST = 200

/** @throws {StepFault} check: it is not as it was accepted; {Stopped} */
export async function checkScreen(parts: StepParts, step: StepOf<'check'>, path: string): Promise<Done> {
  const name = step.screen!
  const accepted = parts.work.screens?.[name]
  const wanted: ScreenWanted = {
    ...(step.of && { of: filledTarget(parts, step.of) }),
    ignore: (step.ignore ?? []).map((target) => filledTarget(parts, target)),
    ...(accepted && { accepted }),
  }
  const limitMs = limitOf(parts, step)
  const limits: Limits = { rightMs: limitMs, someMs: limitMs }
  const seen = accepted
    ? await lookUntil(parts, wanted, limits, ({ difference }) => isWithin(difference, accepted.most))
    : await lookUntilStill(parts, wanted, { ...limits, rightMs: Math.min(STILL_WITHIN_MS, left(parts)) })
  const { difference } = seen
  const result = resultOf(difference, accepted?.most)
  const hash = parts.log.keep('image/png', seen.png)
  if (hash === undefined) throw notKept(name)
  const check: ScreenCheck = {
    name,
    result,
    hash,
    width: seen.width,
    height: seen.height,
    ...(accepted && { accepted: accepted.hash }),
    ...(accepted?.from !== undefined && { from: accepted.from }),
    ...(difference && { ratio: difference.ratio, regions: difference.regions.slice(0, REGIONS_MOST) }),
    ...(seen.ignore.length > 0 && { ignore: seen.ignore.slice(0, REGIONS_MOST) }),
  }
  parts.log.say({ type: 'screen-check', path, ...check })
  if (result === 'proposed') return { note: NOT_YET_ACCEPTED }
  if (result === 'differs')
    throw new StepFault({
      kind: 'check',
      message: `The screen “${name}” is not as it was accepted`,
      expected: 'as it was accepted',
      actual: describeDifference(difference!),
    })
  return { ...(accepted?.from !== undefined && { note: `as it was accepted on ${accepted.from}` }) }
}

type Difference = NonNullable<ComparedPicture['difference']>

const isOneSize = ({ size: { a, b } }: Difference) => a.w === b.w && a.h === b.h
const isWithin = (difference: Difference | undefined, most: number): boolean =>
  difference !== undefined && (difference.same || (isOneSize(difference) && difference.ratio <= most))

function resultOf(difference: Difference | undefined, most = 0): ScreenCheck['result'] {
  if (!difference) return 'proposed'
  return isWithin(difference, most) ? 'same' : 'differs'
}

function describeDifference(difference: Difference): string {
  const { size, ratio, regions } = difference
  if (!isOneSize(difference)) return `${size.b.w} x ${size.b.h}, and ${size.a.w} x ${size.a.h} was accepted`
  const parts = regions.length === 1 ? 'one part' : `${regions.length} parts`
  const moved = regions.filter(({ kind }) => kind === 'moved').length
  return (
    `${(ratio * 100).toFixed(ratio < 0.001 ? 2 : 1)} % differs, in ` +
    `${parts}${moved > 0 ? `; ${moved} only moved` : ''}`
  )
}

/** How long to look for one that is right, and for any at all. */
type Limits = { rightMs: number; someMs: number }

/** @returns the first that is right, or the last when the time is up
 * @throws {StepFault} script: there was none at all */
async function lookUntil(
  parts: StepParts,
  wanted: ScreenWanted,
  { rightMs, someMs }: Limits,
  isRight: (seen: ComparedPicture, before: ComparedPicture | undefined) => boolean,
): Promise<ComparedPicture> {
  const { pace, signal } = parts
  const begun = pace.now()
  let before: ComparedPicture | undefined
  for (;;) {
    const seen = await parts.driver.compareScreen?.(wanted)
    const passedMs = pace.now() - begun
    if (seen && (isRight(seen, before) || passedMs >= rightMs)) return seen
    // a page that just goes elsewhere, or a machine that is slow to paint, has no picture for a moment
    if (!seen && (passedMs >= someMs || !parts.driver.compareScreen)) throw givesNone(parts)
    if (signal.aborted) throw new Stopped()
    before = seen
    await pace.pause(LOOK_AGAIN_MS)
  }
}

const lookUntilStill = (parts: StepParts, wanted: ScreenWanted, limits: Limits) =>
  lookUntil(
    parts,
    wanted,
    limits,
    (seen, before) => before !== undefined && Buffer.compare(seen.png, before.png) === 0,
  )

const givesNone = ({ driver }: StepParts) =>
  new StepFault({
    kind: 'script',
    message: `${driver.facts.browser ?? 'this browser'} gives no screen to compare`,
  })

const notKept = (name: string) =>
  new StepFault({
    kind: 'agent',
    message: `the screen “${name}” is not kept: the evidence of this attempt is too large already`,
  })
