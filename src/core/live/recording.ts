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
    }
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
type EventOf<K extends RecordedEvent['kind']> = Extract<RecordedEvent, { kind: K }>

/** `problem`: what a person has to decide before it plays. */
export type RecordedStep = { step: Step; atMs: number; problem?: string }

/** Two clicks within this time on one element are one double click. */
const DOUBLE_MS = 700
/** A dialog that comes so soon after a step came of it. */
const DIALOG_MS = 3000
/** Keys that go from field to field: what is done there says where. */
const MOVES = new Set(['Tab'])
/** Keys that do something where no text is written. */
const ACTS = new Set(['Enter', ' ', 'Space'])
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
      if (last?.kind === 'input' && sameElement(last.element, event.element)) return [...less, event]
      if (isClickInto(last, event.element)) return [...less, event]
      return [...before, event]
    case 'choice':
      return isClickInto(last, event.element) || isSame(last, event) ? [...less, event] : [...before, event]
    case 'tick':
      return isClickInto(last, event.element) || isSame(last, event) ? [...less, event] : [...before, event]
    case 'click':
      return foldedClick(before, event)
    case 'open':
      return last?.kind === 'open' ? [...less, event] : [...before, event]
    case 'key':
      return isCaretKey(event) ? before : [...before, event]
    default:
      return [...before, event]
  }
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
  const isSecond =
    event.times > 1 &&
    last?.kind === 'click' &&
    event.atMs - last.atMs <= DOUBLE_MS &&
    sameElement(last.element, event.element)
  return isSecond ? [...less, event] : [...before, event]
}

/** A tick says how it is then, a list what was chosen, and a field for files which. */
const isToldByItself = ({ button, element }: EventOf<'click'>): boolean =>
  button === 'left' &&
  (element.tag === 'select' || element.tag === 'option' || element.type === 'file' || isTick(element))

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
  const { element } = event
  if (!element) return event.kind === 'key' ? [{ atMs, step: { verb: 'press', key: keyOf(event) } }] : []
  const found = targetOf(element)
  const target = found ?? lastResort(element)
  const problem = found ? {} : { problem: 'Nothing tells this element from others: choose how it is found' }
  return [{ atMs, ...stepOn(event, target), ...problem }]
}

type OnElement = Exclude<RecordedEvent, { kind: 'open' | 'go' | 'dialog' | 'window' }>

function stepOn(event: OnElement, target: Target): Pick<RecordedStep, 'step' | 'problem'> {
  switch (event.kind) {
    case 'click': {
      const { times, button, with: held } = event
      return {
        step: {
          verb: 'click',
          on: target,
          ...(times > 1 && { times }),
          ...(button !== 'left' && { button }),
          ...(held.length > 0 && { with: held }),
        },
      }
    }
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
