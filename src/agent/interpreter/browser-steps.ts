/** Verbs that act on the browser, or look at it. */
import { tidy, fillDeep, describeDuration, type ElementState, type StepOf, type Target } from '@/core/model'
import { tooBusy } from '../driver/bounded'
import { inTime, LATE } from '../driver/in-time'
import type { Found, Look } from '../driver/port'
import { StepFault, Stopped } from './fault'
import {
  addressOf,
  filledTarget,
  filledText,
  holdsSecret,
  judge,
  keep,
  left,
  limitOf,
  OPEN_LIMIT_MS,
  type Done,
  type StepParts,
} from './parts'
import { requireReachable } from './targets'

const POLL_MS = 80
/** A look that was begun in time may end a little later. */
const LOOK_GRACE_MS = 1500
/** How often a wait looks whether it is to stop. */
const WAIT_PART_MS = 500

export type BrowserStep = StepOf<
  | 'open'
  | 'click'
  | 'type'
  | 'choose'
  | 'press'
  | 'hover'
  | 'drag'
  | 'upload'
  | 'scroll'
  | 'wait'
  | 'read'
  | 'check'
  | 'dialog'
>

/** @throws {StepFault} what stood in the way; {DriverFault} the same, from the driver; {UnknownReference} */
export async function doInBrowser(parts: StepParts, step: BrowserStep, path: string): Promise<Done> {
  requireReachable(step)
  const { driver } = parts
  const target = (written: Target) => filledTarget(parts, written)
  switch (step.verb) {
    case 'open':
      parts.application = step.address.split(':', 1)[0]!
      await driver.open(
        addressOf(parts, filledText(parts, step.address)),
        limitOf(parts, step, OPEN_LIMIT_MS),
      )
      return {}
    case 'click':
      return { found: await driver.click(target(step.on), limitOf(parts, step)) }
    case 'type':
      return type(parts, step)
    case 'choose':
      return {
        found: await driver.choose(target(step.in), filledText(parts, step.value), limitOf(parts, step)),
      }
    case 'press':
      return { found: await driver.press(step.key, step.on && target(step.on), limitOf(parts, step)) }
    case 'hover':
      return { found: await driver.hover(target(step.on), limitOf(parts, step)) }
    case 'drag':
      return { found: await driver.drag(target(step.from), target(step.to), limitOf(parts, step)) }
    case 'upload':
      return {
        found: await driver.upload(
          target(step.in),
          { name: filledText(parts, step.name), text: filledText(parts, step.text) },
          limitOf(parts, step),
        ),
      }
    case 'scroll':
      return {
        found: await driver.scroll(
          step.to ? { to: target(step.to) } : { by: step.by ?? 0 },
          limitOf(parts, step),
        ),
      }
    case 'dialog':
      await driver.answerDialog(
        step.answer === 'accept',
        step.text === undefined ? undefined : filledText(parts, step.text),
      )
      return { note: 'for the next dialog' }
    case 'wait':
      if (step.for) return { found: await waitFor(parts, target(step.for), step.state, limitOf(parts, step)) }
      await wait(parts, Math.min(step.timeMs ?? 0, left(parts)))
      return {}
    case 'read':
      return read(parts, step, path)
    case 'check':
      return check(parts, step)
  }
}

/** A field that takes a secret is one that hides it from here on, also when the secret came by another
 * name. */
async function type(parts: StepParts, step: StepOf<'type'>): Promise<Done> {
  const text = filledText(parts, step.value)
  return {
    found: await parts.driver.type(
      filledTarget(parts, step.in),
      text,
      limitOf(parts, step),
      holdsSecret(parts, text),
    ),
  }
}

/** Lets time pass, until it is to stop. @throws {Stopped} */
async function wait({ pace, signal }: StepParts, ms: number): Promise<void> {
  const until = pace.now() + ms
  for (let leftMs = ms; leftMs > 0; leftMs = until - pace.now()) {
    if (signal.aborted) throw new Stopped()
    await pace.pause(Math.min(leftMs, WAIT_PART_MS))
  }
}

async function waitFor(
  parts: StepParts,
  target: Target,
  state: ElementState,
  limitMs: number,
): Promise<Found | undefined> {
  const { last: look, holds } = await poll(
    parts,
    limitMs,
    () => parts.driver.look(target),
    (seen) =>
      state === 'hidden'
        ? seen.count === 0 || seen.states.includes('hidden')
        : seen.count === 1 && seen.states.includes(state),
  )
  if (holds) return look.found
  throw (
    (await dialogFault(parts)) ??
    new StepFault({ kind: 'target', message: `waited ${describeDuration(limitMs)}, it is not ${state}` })
  )
}

async function read(parts: StepParts, step: StepOf<'read'>, path: string): Promise<Done> {
  const target = filledTarget(parts, step.of)
  const { last: look, holds } = await poll(
    parts,
    limitOf(parts, step),
    () => parts.driver.look(target),
    (seen) => seen.count === 1,
  )
  if (!holds) throw notThere(look)
  await keep(parts, step.as, tidy(look.value || look.text), path, step.handoff)
  return { ...(look.found && { found: look.found }) }
}

async function check(parts: StepParts, step: StepOf<'check'>): Promise<Done> {
  if (step.subject === 'screen')
    throw new StepFault({
      kind: 'script',
      message: `“${step.screen}” compares a picture of the screen, which this version does not do yet`,
    })
  return step.of === undefined || isOfPage(step.subject)
    ? checkPage(parts, step)
    : checkElement(parts, step, step.of)
}

const isOfPage = (subject: StepOf<'check'>['subject']) =>
  subject === 'url' || subject === 'title' || subject === 'download'
const PAGE_SUBJECTS = { url: 'address', title: 'page title', download: 'downloaded file' } as const

async function checkPage(parts: StepParts, step: StepOf<'check'>): Promise<Done> {
  const { driver, scope } = parts
  const matcher = fillDeep(step.matcher ?? {}, scope)
  // Any file downloaded in this attempt may be the one; the newest is shown when none is.
  const actuals = async () => {
    if (step.subject === 'url') return [await driver.url()]
    return step.subject === 'title' ? [await driver.title()] : driver.downloads()
  }
  const { last, holds } = await poll(parts, limitOf(parts, step), actuals, (texts) =>
    texts.some((text) => judge(parts, text, matcher).holds),
  )
  if (holds) return {}
  throw new StepFault({
    kind: 'check',
    message: `The ${PAGE_SUBJECTS[step.subject as 'url']} is not what was expected`,
    expected: judge(parts, '', matcher).expected,
    actual: last.at(-1) ?? 'nothing was downloaded',
  })
}

async function checkElement(parts: StepParts, step: StepOf<'check'>, of: Target): Promise<Done> {
  const { driver, scope } = parts
  const matcher = fillDeep(step.matcher ?? {}, scope)
  const target = filledTarget(parts, of)
  const isThere = (seen: Look) =>
    step.subject === 'count' || seen.count === 1 || (step.subject === 'state' && step.state === 'hidden')
  const isRight = (seen: Seen) =>
    step.subject === 'state'
      ? seen.states.includes(step.state!)
      : seen.actual !== undefined && judge(parts, seen.actual, matcher).holds
  const look = async (): Promise<Seen> => {
    const seen = await driver.look(target)
    if (step.subject === 'attribute') {
      const attribute = seen.count === 1 ? await driver.attribute(target, step.attribute!) : undefined
      return { ...seen, actual: attribute }
    }
    const actuals = {
      count: String(seen.count),
      value: seen.value,
      state: seen.states.join(', '),
      text: seen.text,
    }
    return { ...seen, actual: actuals[step.subject as keyof typeof actuals] }
  }
  const { last, holds } = await poll(
    parts,
    limitOf(parts, step),
    look,
    (seen) => isThere(seen) && isRight(seen),
  )
  if (holds) return { ...(last.found && { found: last.found }) }
  if (!isThere(last)) throw (await dialogFault(parts)) ?? notThere(last)
  const what = step.subject === 'attribute' ? `attribute ${step.attribute}` : step.subject
  const expected = step.subject === 'state' ? step.state! : judge(parts, '', matcher).expected
  throw new StepFault({
    kind: 'check',
    message: `The ${what} is not what was expected`,
    expected,
    actual: last.actual === undefined ? 'it has none' : tidy(last.actual),
  })
}
type Seen = Look & { actual: string | undefined }

/** Looks again and again until it is right or the time is up; at least once. @throws {Stopped} */
async function poll<T>(
  { pace, signal, driver }: StepParts,
  limitMs: number,
  look: () => Promise<T>,
  right: (seen: T) => boolean,
): Promise<{ last: T; holds: boolean }> {
  const until = pace.now() + limitMs
  for (;;) {
    const limit = Math.max(0, until - pace.now()) + LOOK_GRACE_MS
    const last = await inTime(look(), limit)
    if (last === LATE) {
      driver.giveUp?.()
      throw tooBusy(limit)
    }
    if (right(last)) return { last, holds: true }
    if (signal.aborted) throw new Stopped()
    if (pace.now() >= until) return { last, holds: false }
    await pace.pause(POLL_MS)
  }
}

async function dialogFault({ driver }: StepParts): Promise<StepFault | undefined> {
  const dialog = await driver.openDialog()
  return dialog === undefined
    ? undefined
    : new StepFault({ kind: 'dialog', message: `a dialog “${dialog}” is open over the page` })
}
const notThere = (look: Look) =>
  new StepFault({
    kind: 'target',
    message: look.count === 0 ? 'it is not on the page' : `${look.count} elements match, one was expected`,
  })
