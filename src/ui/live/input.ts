/** Pointers and keys of this page, as orders to the browser that is steered. */
import type { LiveOrder } from '@/core/live'
import type { HeldKey, MouseButton } from '@/core/model'

type Held = { shiftKey: boolean; ctrlKey: boolean; altKey: boolean; metaKey: boolean }
type Pointer = Held & { clientX: number; clientY: number; button: number; detail: number }
type Key = Held & { key: string; code: string; isComposing: boolean }
export type Input = Extract<LiveOrder, { do: 'mouse' | 'wheel' | 'key' | 'text' }>

const BUTTONS: readonly MouseButton[] = ['left', 'middle', 'right']
const KEYS_MOST = 30

export const heldIn = ({ shiftKey, ctrlKey, altKey, metaKey }: Held): HeldKey[] => [
  ...(shiftKey ? (['Shift'] as const) : []),
  ...(ctrlKey ? (['Control'] as const) : []),
  ...(altKey ? (['Alt'] as const) : []),
  ...(metaKey ? (['Meta'] as const) : []),
]

export type View = { width: number; height: number }
/** A point of the picture in CSS pixels of the page's view. @param shown where the picture stands here */
export function pointIn(
  { clientX, clientY }: Pick<Pointer, 'clientX' | 'clientY'>,
  shown: Pick<DOMRect, 'left' | 'top' | 'width' | 'height'>,
  view: View,
): { x: number; y: number } {
  const scaled = (at: number, from: number, long: number, most: number) =>
    Math.round(Math.min(most - 1, Math.max(0, ((at - from) / Math.max(1, long)) * most)))
  return {
    x: scaled(clientX, shown.left, shown.width, view.width),
    y: scaled(clientY, shown.top, shown.height, view.height),
  }
}

export const mouseOrder = (
  type: 'down' | 'up' | 'move',
  event: Pointer,
  at: { x: number; y: number },
): Extract<Input, { do: 'mouse' }> => ({
  do: 'mouse',
  type,
  ...at,
  button: type === 'move' ? 'none' : (BUTTONS[event.button] ?? 'left'),
  clicks: type === 'move' ? 0 : Math.min(3, Math.max(1, event.detail)),
  with: heldIn(event),
})

/** @returns `undefined` for what is not the page's: composing, pasting, leaving the picture */
export function keyOrder(type: 'down' | 'up', event: Key): Extract<Input, { do: 'key' }> | undefined {
  if (event.isComposing || event.key === 'Process' || event.key === 'Dead' || event.key === 'Unidentified')
    return undefined
  if (isPaste(event) || leaves(event) || event.key.length > KEYS_MOST) return undefined
  return { do: 'key', type, key: event.key, code: event.code.slice(0, KEYS_MOST), with: heldIn(event) }
}

/** The text comes with the paste itself. */
const isPaste = ({ key, ctrlKey, metaKey }: Key): boolean => (ctrlKey || metaKey) && key.toLowerCase() === 'v'
/** Else the keys of the picture could never be left. */
export const leaves = ({ key, shiftKey }: Pick<Key, 'key' | 'shiftKey'>): boolean =>
  key === 'Escape' && shiftKey
