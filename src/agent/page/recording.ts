/** Runs in the page, beside its scripts: tells what a person does there. Only what the browser itself says a
 * person did (`isTrusted`): a page that makes events of its own is not believed. */
import type { ElementFacts, LiveList, RecordedEvent, ScreenSeen, Unready } from '@/core/live'
import { factsOf, meantBy } from './facts'
import { Needs } from './needs'
import { ScreenRepeats } from './repeats'
import { Readiness } from './ready'
import { answerWhatShows } from './shown-by'

/** Without the time, which the agent knows. */
type Untimed = RecordedEvent extends infer E ? (E extends RecordedEvent ? Omit<E, 'atMs'> : never) : never
/** Boxes are of the view of the document; `root`: where that begins in it, which is known of the page too. */
export type Told =
  /** `carried`: from the page before, which may have been left for another site first. */
  | { event: Untimed | ({ kind: 'screen' } & ScreenSeen); carried?: true }
  | { list: LiveList; root: { x: number; y: number } }
  | { list: null }
  | { files: { several: boolean } }

const BUTTONS = ['left', 'middle', 'right'] as const
/** Keys that do something by themselves; letters come as what they write. */
const NAMED_KEYS = /^(Enter|Escape|Tab|Delete|Arrow\w+|Page\w+|Home|End|F\d+|Insert|ContextMenu)$/
const HELD_BY_THEMSELVES = new Set(['Shift', 'Control', 'Alt', 'Meta'])

let openList: HTMLSelectElement | undefined
/** Facts of a field while it is typed into: to compute them anew for each letter takes too long. */
const known = new WeakMap<Element, ElementFacts>()

const heldIn = ({ shiftKey, ctrlKey, altKey, metaKey }: MouseEvent | KeyboardEvent) => [
  ...(shiftKey ? (['Shift'] as const) : []),
  ...(ctrlKey ? (['Control'] as const) : []),
  ...(altKey ? (['Alt'] as const) : []),
  ...(metaKey ? (['Meta'] as const) : []),
]
const targetIn = (event: Event): Element | undefined => {
  const [first] = event.composedPath()
  return first instanceof Element ? first : undefined
}
const isEditor = (element: Element): element is HTMLElement =>
  element instanceof HTMLElement && element.isContentEditable
const isText = (element: Element): boolean =>
  element instanceof HTMLTextAreaElement ||
  isEditor(element) ||
  (element instanceof HTMLInputElement &&
    !['checkbox', 'radio', 'file', 'button', 'submit'].includes(element.type))

/** Tells from now on. @param tell takes JSON of `Told` */
export function record(tell: (told: string) => void): void {
  const say = (told: Told) => tell(JSON.stringify(told))
  const on = <K extends keyof DocumentEventMap>(type: K, hear: (event: DocumentEventMap[K]) => void) =>
    document.addEventListener(type, (event) => event.isTrusted && hear(event), { capture: true })

  const needs = new Needs()
  const repeats = new ScreenRepeats()
  const ready = new Readiness(needs, {
    answered: (is) => say({ event: { kind: 'answered', is } }),
    came: (element) => say({ event: { kind: 'came', element: factsOf(element) } }),
  })
  answerWhatShows((element) => {
    const [need] = needs.before(element)
    return need?.kind === 'hover' ? need.element : undefined
  })
  let unready: Unready | undefined
  let pressed: Element | undefined
  /** Something is about to be done to it. */
  const doing = (element: Element | undefined) => {
    const screen = element && repeats.now()
    if (screen) say({ event: { kind: 'screen', ...screen } })
    if (element) for (const need of needs.before(element)) say({ event: need })
    needs.acted()
    ready.acted()
  }
  on('mouseover', (event) => {
    const element = targetIn(event)
    if (element) needs.pointed(element)
  })
  on('mousemove', (event) => {
    const element = targetIn(event)
    if (element) ready.pointed(element)
  })
  on('wheel', (event) => needs.wheeled(targetIn(event)))
  on('mousedown', (event) => {
    const element = targetIn(event)
    const meant = element && meantBy(element)
    unready = meant && ready.of(meant)
    // the second of a double click is no other doing
    if (event.detail < 2 || meant !== pressed) doing(meant)
    pressed = meant
  })
  on('mousedown', (event) => {
    const list = targetIn(event)?.closest('select')
    if (!list || list.disabled || list.multiple || list.size > 1) return
    // the browser would draw it outside of the page, where no picture shows it
    event.preventDefault()
    list.focus()
    openList = list
    say({ list: listOf(list), root: cornerOf(document.documentElement) })
  })
  const clicked = (event: MouseEvent) => {
    const meant = sayClick(event, say, unready)
    unready = undefined
    if (meant) ready.clicked(meant)
  }
  on('click', clicked)
  on('auxclick', clicked)
  on('input', (event) => {
    const element = targetIn(event)
    if (!element || !isText(element)) return
    const editor = isEditor(element) ? (element.closest('[contenteditable]') ?? element) : element
    say({ event: { kind: 'input', element: factsWhileTyped(editor), value: textIn(editor) } })
  })
  on('change', (event) => {
    const element = targetIn(event)
    if (element instanceof HTMLSelectElement) sayChoice(element, say)
    else if (element instanceof HTMLInputElement && ['checkbox', 'radio'].includes(element.type))
      say({ event: { kind: 'tick', element: factsOf(element), on: element.checked } })
    if (element) known.delete(element)
  })
  on('keydown', (event) => {
    const { key } = event
    if (HELD_BY_THEMSELVES.has(key)) return
    const held = heldIn(event)
    const element = targetIn(event)
    const writes = element !== undefined && isText(element)
    const isShortcut = held.some((one) => one !== 'Shift')
    const isSpace = key === ' ' && !writes
    if (!isShortcut && !isSpace && !NAMED_KEYS.test(key)) return
    if (writes && key === 'Delete') return
    doing(element)
    const isPage = element === undefined || element === document.body || element === document.documentElement
    say({ event: { kind: 'key', key, with: held, ...(!isPage && { element: factsOf(element) }) } })
  })
  let dragged: ElementFacts | undefined
  on('dragstart', (event) => {
    const element = targetIn(event)
    dragged = element && factsOf(element.closest('[draggable=true]') ?? element)
  })
  on('drop', (event) => {
    const element = targetIn(event)
    if (dragged && element) say({ event: { kind: 'drag', element: dragged, onto: factsOf(element) } })
    dragged = undefined
  })
}

/** @returns what was clicked; absent: it is told otherwise */
function sayClick(
  event: MouseEvent,
  say: (told: Told) => void,
  unready: Unready | undefined,
): Element | undefined {
  const element = targetIn(event)
  if (!element) return undefined
  // the browser clicks the label's own field next
  const label = element.closest('label')
  if (label?.control && label.control !== element && !label.control.contains(element)) return undefined
  const meant = meantBy(element)
  say({
    event: {
      kind: 'click',
      element: factsOf(meant),
      button: BUTTONS[event.button] ?? 'left',
      times: Math.max(1, event.detail),
      with: heldIn(event),
      byKey: event.detail === 0,
      ...(unready && { unready }),
    },
  })
  return meant
}

function factsWhileTyped(element: Element): ElementFacts {
  const facts = known.get(element) ?? factsOf(element)
  known.set(element, facts)
  return facts
}

const textIn = (element: Element): string => {
  if (known.get(element)?.secret) return ''
  return isEditor(element) ? element.innerText : (element as HTMLInputElement).value
}

const sayChoice = (list: HTMLSelectElement, say: (told: Told) => void): void =>
  say({
    event: {
      kind: 'choice',
      element: factsOf(list),
      values: [...list.selectedOptions].map(({ label }) => label),
    },
  })

const cornerOf = (element: Element) => {
  const { x, y } = element.getBoundingClientRect()
  return { x, y }
}

function listOf(list: HTMLSelectElement): LiveList {
  const { x, y, width, height } = list.getBoundingClientRect()
  return {
    box: { x: Math.round(x), y: Math.round(y), w: Math.round(width), h: Math.round(height) },
    several: list.multiple,
    options: [...list.options]
      .slice(0, 1000)
      .map(({ label, value, selected }) => ({ label, value, chosen: selected })),
  }
}

/** Chooses of the list that was opened last, as a person would. @returns what is to be told of it */
export function chooseOpen(values: readonly string[]): string {
  const list = openList
  openList = undefined
  if (!list) return JSON.stringify({ list: null } satisfies Told)
  list.value = values[0] ?? ''
  for (const type of ['input', 'change']) list.dispatchEvent(new Event(type, { bubbles: true }))
  return JSON.stringify({
    event: {
      kind: 'choice',
      element: factsOf(list),
      values: [...list.selectedOptions].map(({ label }) => label),
    },
  } satisfies Told)
}
