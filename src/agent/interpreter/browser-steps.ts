/** Verbs that act on the browser, or look at it. */
import { keepSignedIn, signIn } from './signed-in'
import {
  describeDuration,
  fillDeep,
  NOTHING_FOUND,
  pickedBy,
  tidy,
  type Clicking,
  type ElementState,
  type StepOf,
  type Target,
} from '@/core/model'
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
import { checkScreen } from './check-screen'
import { absence, graceOf, poll } from './looking'
import { changeWindow, scroll } from './moving'

/** How often a wait looks whether it is to stop. */
const WAIT_PART_MS = 500

export type BrowserStep = StepOf<
  | 'open'
  | 'go'
  | 'click'
  | 'type'
  | 'choose'
  | 'press'
  | 'hover'
  | 'drag'
  | 'upload'
  | 'scroll'
  | 'window'
  | 'wait'
  | 'read'
  | 'check'
  | 'dialog'
  | 'network'
  | 'signed-in'
>

/** @throws {StepFault} what stood in the way; {DriverFault} the same, from the driver; {UnknownReference} */
export async function doInBrowser(parts: StepParts, step: BrowserStep, path: string): Promise<Done> {
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
    case 'go':
      await driver.go(step.to, limitOf(parts, step, OPEN_LIMIT_MS))
      return {}
    case 'click':
      return { found: await driver.click(target(step.on), limitOf(parts, step), clickingOf(step)) }
    case 'type':
      return type(parts, step)
    case 'choose':
      return {
        found: await driver.choose(
          target(step.in),
          filledText(parts, step.value),
          limitOf(parts, step),
          step.also?.map((option) => filledText(parts, option)),
        ),
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
          [step, ...(step.more ?? [])].map(({ name, text, encoding }) => ({
            name: filledText(parts, name),
            ...(encoding ? { text, encoding } : { text: filledText(parts, text) }),
          })),
          limitOf(parts, step),
        ),
      }
    case 'scroll':
      return scroll(parts, step)
    case 'window':
      await changeWindow(parts, step)
      return {}
    case 'dialog':
      await driver.answerDialog(
        step.answer === 'accept',
        step.text === undefined ? undefined : filledText(parts, step.text),
      )
      return { note: 'for the next dialog' }
    case 'network':
      await changeNetwork(parts, step)
      return { note: 'from now on' }
    case 'signed-in':
      return step.does === 'keep' ? keepSignedIn(parts, step.as) : signIn(parts, step)
    case 'wait':
      if (step.for) return { found: await waitFor(parts, target(step.for), step.state, limitOf(parts, step)) }
      await wait(parts, Math.min(step.timeMs ?? 0, left(parts)))
      return {}
    case 'read':
      return read(parts, step, path)
    case 'check':
      return check(parts, step, path)
  }
}

/** @throws {StepFault} where the browser has no way to */
async function changeNetwork(parts: StepParts, { verb: _, ...step }: StepOf<'network'>): Promise<void> {
  const { driver, scope } = parts
  if (!driver.network)
    throw new StepFault({
      kind: 'script',
      message: `${driver.facts.browser ?? 'this browser'} has no way to change what its network does`,
    })
  const { does, requests, status, type, body, delayMs } = fillDeep(step, scope)
  await driver.network({
    does,
    ...(requests !== undefined && { requests }),
    ...(status !== undefined && { status }),
    ...(type !== undefined && { type }),
    ...(body !== undefined && { body }),
    ...(delayMs !== undefined && { delayMs }),
  })
}

const clickingOf = ({ times, button, with: held, holdMs }: StepOf<'click'>): Clicking => ({
  ...(times !== undefined && { times }),
  ...(button && { button }),
  ...(held && { with: held }),
  ...(holdMs !== undefined && { holdMs }),
})

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
    graceOf(target),
  )
  if (holds) return look.found
  throw (
    (await dialogFault(parts)) ??
    new StepFault({ kind: 'target', message: `waited ${describeDuration(limitMs)}, it is not ${state}` })
  )
}

async function read(parts: StepParts, step: StepOf<'read'>, path: string): Promise<Done> {
  const target = filledTarget(parts, step.of)
  const picked = (seen: Look) => {
    const text = tidy(seen.value || seen.text)
    return step.pick === undefined ? text : pickedBy(step.pick, text)
  }
  const { last: look, holds } = await poll(
    parts,
    limitOf(parts, step),
    () => parts.driver.look(target),
    (seen) => seen.count === 1 && picked(seen) !== undefined,
    graceOf(target),
  )
  if (look.count === 1 && !holds) throw notPicked(step.pick!, tidy(look.value || look.text))
  if (!holds) throw new StepFault({ kind: 'target', message: absence(target, look) })
  await keep(parts, step.as, picked(look)!, path, step.handoff)
  return { ...(look.found && { found: look.found }) }
}

const notPicked = (pick: string, text: string) =>
  new StepFault({
    kind: 'check',
    message: 'What is to be read is not in its text',
    expected: `matches /${pick}/`,
    actual: text,
  })

async function check(parts: StepParts, step: StepOf<'check'>, path: string): Promise<Done> {
  if (step.subject === 'screen') return checkScreen(parts, step, path)
  return isOfPage(step.subject) ? checkPage(parts, step, step.subject) : checkElement(parts, step, step.of!)
}

/** Subjects of the page itself: what is said of each, and when there is none. */
const OF_PAGE = {
  url: { words: 'address', none: 'none' },
  title: { words: 'page title', none: 'none' },
  download: { words: 'downloaded file', none: NOTHING_FOUND.download },
  dialog: { words: 'dialog', none: NOTHING_FOUND.dialog },
} as const
const isOfPage = (subject: string): subject is keyof typeof OF_PAGE => subject in OF_PAGE

async function checkPage(
  parts: StepParts,
  step: StepOf<'check'>,
  subject: keyof typeof OF_PAGE,
): Promise<Done> {
  const { driver, scope } = parts
  const matcher = fillDeep(step.matcher ?? {}, scope)
  // Any file downloaded in this attempt, any dialog of it, may be the one; the newest is shown when none is.
  const actuals = {
    url: async () => [await driver.url()],
    title: async () => [await driver.title()],
    download: () => driver.downloads(),
    dialog: () => driver.dialogs(),
  }
  const { last, holds } = await poll(parts, limitOf(parts, step), actuals[subject], (texts) =>
    texts.some((text) => judge(parts, text, matcher).holds),
  )
  if (holds) return {}
  throw new StepFault({
    kind: 'check',
    message: `The ${OF_PAGE[subject].words} is not what was expected`,
    expected: judge(parts, '', matcher).expected,
    actual: last.at(-1) ?? OF_PAGE[subject].none,
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
    graceOf(target),
  )
  if (holds) return { ...(last.found && { found: last.found }) }
  const what = step.subject === 'attribute' ? `attribute ${step.attribute}` : step.subject
  const expected = step.subject === 'state' ? step.state! : judge(parts, '', matcher).expected
  if (!isThere(last)) {
    const fault = await dialogFault(parts)
    throw (
      fault ??
      new StepFault({
        kind: 'check',
        message: absence(target, last),
        expected,
        actual: NOTHING_FOUND.element,
      })
    )
  }
  throw new StepFault({
    kind: 'check',
    message: `The ${what} is not what was expected`,
    expected,
    actual: last.actual === undefined ? NOTHING_FOUND.attribute : tidy(last.actual),
  })
}
type Seen = Look & { actual: string | undefined }

async function dialogFault({ driver }: StepParts): Promise<StepFault | undefined> {
  const dialog = await driver.openDialog()
  return dialog === undefined
    ? undefined
    : new StepFault({ kind: 'dialog', message: `a dialog “${dialog}” is open over the page` })
}
