/** What a person does in a browser, as steps of a case. Events are what the page saw, in order; the steps are
 * what a person would say they did. */
import type { HeldKey, MouseButton, Step, Target, UploadFile, WayToGo, WindowChoice } from '../model'
import { isTick, sameElement, takesText, type ElementFacts } from './facts'
import { targetOf } from './target'

export type RecordedEvent = { atMs: number } & (
  | {
      kind: 'click'
      element: ElementFacts
      button: MouseButton
      times: number
      with: HeldKey[]
      /** The browser made it of a key. */
      byKey: boolean
      unready?: Unready
      /** Nothing changed on the page after it. */
      unanswered?: boolean
      /** A click before it had done nothing. */
      again?: boolean
      /** What came of it then. */
      came?: ElementFacts
    }
  /** The pointer stood on it, and what is done next was there because of that. */
  | { kind: 'hover'; element: ElementFacts }
  /** It came while a person scrolled: `within` it, or the page. */
  | { kind: 'scroll'; element: ElementFacts; within?: ElementFacts }
  /** It came some time after what was done last, and before what is done next. */
  | { kind: 'wait'; element: ElementFacts }
  /** Whether anything changed after the click before. */
  | { kind: 'answered'; is: boolean }
  /** The click that had to be done again made this come. */
  | { kind: 'came'; element: ElementFacts }
  /** `value`: all that is in the field then. */
  | { kind: 'input'; element: ElementFacts; value: string }
  | { kind: 'choice'; element: ElementFacts; values: string[] }
  | { kind: 'tick'; element: ElementFacts; on: boolean }
  | { kind: 'key'; element?: ElementFacts; key: string; with: HeldKey[] }
  | { kind: 'files'; element: ElementFacts; files: UploadFile[] }
  | { kind: 'drag'; element: ElementFacts; onto: ElementFacts }
  | { kind: 'open'; address: string }
  | { kind: 'go'; to: WayToGo }
  | { kind: 'dialog'; answer: 'accept' | 'dismiss'; text?: string }
  | { kind: 'window'; to: WindowChoice }
)
/** Why an element was not ready when it was clicked. `by`: what stood over its middle. */
export type Unready = { is: 'moving' } | { is: 'covered'; by: string }
export type EventOf<K extends RecordedEvent['kind']> = Extract<RecordedEvent, { kind: K }>

/** `problem`: what a person has to decide before it plays. `caution`: it plays, and why it might not always.
 * */
export type RecordedStep = { step: Step; atMs: number; problem?: string; caution?: string }

/** A click that does nothing while the page is not ready is done so often, and has so long to do something.
 * */
const [TRIES, TRY_MS] = [5, 3000]
/** A dialog that comes so soon after a step came of it. */
const DIALOG_MS = 3000
/** Keys that go from field to field: what is done there says where. */
const EDIT_KEYS = new Set(['a', 'c', 'v', 'x', 'y', 'z'])
const EDITS_WITH = new Set<HeldKey>(['Control', 'Meta'])
const MOVES = new Set(['Tab'])
/** Keys that do something where no text is written. */
const ACTS = new Set(['Enter', ' ', 'Space'])
/** Told before what needs them. */
const NEEDS = new Set<RecordedEvent['kind']>(['hover', 'scroll', 'wait'])
const CARET_KEYS = new Set([
  'ArrowLeft',
  'ArrowRight',
  'ArrowUp',
  'ArrowDown',
  'Home',
  'End',
  'PageUp',
  'PageDown',
])

/** Folds corrections, repeated typing, clicks that only went into a field, and what the browser itself made
 * of a key or a label. */
export function stepsOfRecording(events: readonly RecordedEvent[]): RecordedStep[] {
  const kept = events.reduce<RecordedEvent[]>((before, event) => folded(before, event), [])
  const told = kept.filter((event, i) => !isOnlyTheWay(event, kept[i + 1]))
  return beforeTheirCause(told.flatMap((event) => stepOf(event)))
}

/** The events so far with one more, which may say what the last one said. */
function folded(before: RecordedEvent[], event: RecordedEvent): RecordedEvent[] {
  const last = before.at(-1)
  const less = before.slice(0, -1)
  switch (event.kind) {
    case 'input':
      return [...withoutTheWay(before, event.element), event]
    case 'choice':
      return isClickInto(last, event.element) || isSame(last, event) ? [...less, event] : [...before, event]
    case 'tick':
      return isClickInto(last, event.element) || isSame(last, event) ? [...less, event] : [...before, event]
    case 'click':
      return foldedClick(before, event)
    case 'open':
      return last?.kind === 'open' ? [...less, event] : [...before, event]
    case 'key':
      if (isCaretKey(event)) return before
      // what is pressed in a field goes there by itself
      return event.element && takesText(event.element) && isClickInto(last, event.element)
        ? [...less, event]
        : [...before, event]
    case 'answered':
      return foldedAnswer(before, event)
    case 'came':
      return last?.kind === 'click' && last.again ? [...less, { ...last, came: event.element }] : before
    default:
      return [...before, event]
  }
}

/** Without what led to the text that is in a field now: all of that is told with it. */
function withoutTheWay(before: readonly RecordedEvent[], element: ElementFacts): RecordedEvent[] {
  const led = (event: RecordedEvent) =>
    isClickInto(event, element) ||
    (event.kind === 'input' && sameElement(event.element, element)) ||
    (isEditing(event) && event.element !== undefined && sameElement(event.element, element))
  return before.slice(0, before.findLastIndex((event) => !led(event)) + 1)
}

function foldedClick(before: RecordedEvent[], event: EventOf<'click'>): RecordedEvent[] {
  if (isToldByItself(event)) return before
  const last = before.at(-1)
  const less = before.slice(0, -1)
  if (event.byKey && last?.kind === 'key' && ACTS.has(last.key)) {
    const onIt = last.element && sameElement(last.element, event.element)
    // on a button the key is a click; in a field the browser clicks the form's own button
    return onIt ? [...less, { ...event, byKey: false }] : before
  }
  const at = before.findLastIndex(({ kind }) => !NEEDS.has(kind))
  const previous = before[at]
  if (previous?.kind !== 'click') return [...before, event]
  const isOnIt = sameElement(previous.element, event.element)
  if (previous.unanswered && isOnIt) return [...before.slice(0, at), { ...event, again: true }]
  if (event.times < 2) return [...before, event]
  // browsers count clicks by place and time, whatever stands at that place by then
  return isOnIt
    ? [...before.slice(0, at), { ...event, times: Math.min(event.times, previous.times + 1) }]
    : [...before, { ...event, times: 1 }]
}

/** A click on nothing that did nothing is none. */
function foldedAnswer(before: RecordedEvent[], { is }: EventOf<'answered'>): RecordedEvent[] {
  const last = before.at(-1)
  const less = before.slice(0, -1)
  if (last?.kind !== 'click') return before
  if (!is && !targetOf(last.element)) return less
  return [...less, { ...last, unanswered: !is }]
}

/** A tick says how it is then, a list what was chosen, and a field for files which. */
const isToldByItself = ({ button, element }: EventOf<'click'>): boolean =>
  button === 'left' &&
  (element.tag === 'select' || element.tag === 'option' || element.type === 'file' || isTick(element))

/** Selects, cuts, pastes, undoes in a text. */
const isEditing = (event: RecordedEvent): event is EventOf<'key'> =>
  event.kind === 'key' &&
  EDIT_KEYS.has(event.key.toLowerCase()) &&
  event.with.some((one) => EDITS_WITH.has(one))

const isClickInto = (event: RecordedEvent | undefined, element: ElementFacts): boolean =>
  event?.kind === 'click' && event.button === 'left' && sameElement(event.element, element)
const isSame = (last: RecordedEvent | undefined, event: EventOf<'choice' | 'tick'>): boolean =>
  last?.kind === event.kind && sameElement(last.element, event.element)

/** In a text these move the caret; in a list under a field they choose. */
const isCaretKey = ({ key, element, with: held }: EventOf<'key'>): boolean =>
  element !== undefined &&
  CARET_KEYS.has(key) &&
  held.length === 0 &&
  (element.tag === 'select' || (takesText(element) && !element.suggests))

/** It only led to what came next. */
function isOnlyTheWay(event: RecordedEvent, next: RecordedEvent | undefined): boolean {
  if (event.kind === 'key' && MOVES.has(event.key) && event.with.length === 0)
    return next?.kind !== 'key' || MOVES.has(next.key)
  return false
}

function stepOf(event: RecordedEvent): RecordedStep[] {
  const { atMs } = event
  if (event.kind === 'open') return [{ atMs, step: { verb: 'open', address: event.address } }]
  if (event.kind === 'go') return [{ atMs, step: { verb: 'go', to: event.to } }]
  if (event.kind === 'dialog') {
    const { answer, text } = event
    return [{ atMs, step: { verb: 'dialog', answer, ...(text !== undefined && { text }) } }]
  }
  if (event.kind === 'window') return [{ atMs, step: { verb: 'window', to: event.to } }]
  if (event.kind === 'answered' || event.kind === 'came') return []
  const { element } = event
  if (!element) return event.kind === 'key' ? [{ atMs, step: { verb: 'press', key: keyOf(event) } }] : []
  const found = targetOf(element)
  // what only helps, and cannot be found again, is left out
  if (!found && event.kind === 'wait') return []
  const target = found ?? lastResort(element)
  const problem = found ? {} : { problem: 'Nothing tells this element from others: choose how it is found' }
  return [{ atMs, ...stepOn(event, target), ...problem }]
}

type OnElement = Exclude<RecordedEvent, { kind: 'open' | 'go' | 'dialog' | 'window' | 'answered' | 'came' }>

function stepOn(event: OnElement, target: Target): Omit<RecordedStep, 'atMs'> {
  switch (event.kind) {
    case 'click':
      return clickOn(event, target)
    case 'hover':
      return { step: { verb: 'hover', on: target } }
    case 'scroll': {
      const within = event.within && targetOf(event.within)
      return { step: { verb: 'scroll', until: target, ...(within && { in: within }) } }
    }
    case 'wait':
      return { step: { verb: 'wait', for: target, state: 'visible' } }
    case 'input': {
      if (!event.element.secret) return { step: { verb: 'type', in: target, value: event.value } }
      const name = secretName(event.element)
      return {
        step: { verb: 'type', in: target, value: `\${secret.${name}}` },
        problem: `What was typed is hidden and was not recorded: set a secret ${name}, or choose another`,
      }
    }
    case 'choice': {
      const [value = '', ...also] = event.values
      return { step: { verb: 'choose', in: target, value, ...(also.length > 0 && { also }) } }
    }
    case 'tick':
      return { step: { verb: 'choose', in: target, value: event.on ? 'yes' : 'no' } }
    case 'key':
      return { step: { verb: 'press', key: keyOf(event), on: target } }
    case 'files': {
      const [first, ...more] = event.files
      return {
        step: {
          verb: 'upload',
          in: target,
          ...(first ?? { name: 'file.txt', text: '' }),
          ...(more.length > 0 && { more }),
        },
      }
    }
    case 'drag':
      return { step: { verb: 'drag', from: target, to: targetOf(event.onto) ?? lastResort(event.onto) } }
  }
}

function clickOn(event: EventOf<'click'>, target: Target): Omit<RecordedStep, 'atMs'> {
  const { times, button, with: held } = event
  const step: Step = {
    verb: 'click',
    on: target,
    ...(times > 1 && { times }),
    ...(button !== 'left' && { button }),
    ...(held.length > 0 && { with: held }),
  }
  const came = event.came && targetOf(event.came)
  if (came)
    return {
      step: { verb: 'repeat', until: { visible: came }, waitMs: TRY_MS, times: TRIES, steps: [step] },
      caution: 'It did nothing at first: the step clicks until something comes of it',
    }
  const caution = cautionOf(event)
  return { step, ...(caution !== undefined && { caution }) }
}

function cautionOf({ unready, unanswered, again }: EventOf<'click'>): string | undefined {
  if (again) return 'It did nothing at first, and something then: was the page ready? Add what to wait for'
  if (unanswered) return 'Nothing on the page changed within a second of it: was the page ready?'
  if (unready?.is === 'moving') return 'It was still moving: the step waits until it stands'
  if (unready) return `Its middle was covered by ${unready.by}: the step waits until it is free`
  return undefined
}

const keyOf = ({ key, with: held }: EventOf<'key'>): string =>
  [...held, key === ' ' ? 'Space' : key].join('+')

const secretName = ({ label, name, placeholder }: ElementFacts): string =>
  (label ?? name ?? placeholder ?? '')
    .toUpperCase()
    .replace(/[^A-Z0-9]+/g, '_')
    .replace(/^[_0-9]+|_+$/g, '')
    .slice(0, 40) || 'PASSWORD'

/** Written all the same, for a person to complete. */
const lastResort = ({ role, name, css, tag }: ElementFacts): Target =>
  role !== undefined && name ? { role, name } : { css: css ?? tag }

/** An answer to a dialog is given before the step that makes it open. */
function beforeTheirCause(steps: readonly RecordedStep[]): RecordedStep[] {
  const ordered: RecordedStep[] = []
  for (const one of steps) {
    const cause = ordered.at(-1)
    const cameOfIt = one.step.verb === 'dialog' && cause && one.atMs - cause.atMs <= DIALOG_MS
    if (cameOfIt && cause.step.verb !== 'dialog') ordered.splice(-1, 0, one)
    else ordered.push(one)
  }
  return ordered
}
