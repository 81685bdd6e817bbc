/** What a person does with mouse and keys, as WebDriver writes it (w3.org/TR/webdriver2, actions). */
import type { Clicking } from '@/core/model'
import type { Input } from '../driver/live'
import type { Point } from '../page/engine'
import type { ElementRef } from './client'
import { keyOf } from './keys'

const BUTTONS = { left: 0, middle: 1, right: 2 } as const
const NOTHING = { type: 'pause', duration: 0 }

/** A click in the middle of an element, or at a point of the view. All sources act at the same time, action
 * by action: keys go down before the first of the mouse, and up after its last. */
export function clickActions(element: ElementRef, how: Clicking, at?: Point): object[] {
  const { times = 1, button = 'left', with: held = [], holdMs = 0 } = how
  const once = [
    { type: 'pointerDown', button: BUTTONS[button] },
    { type: 'pause', duration: holdMs },
    { type: 'pointerUp', button: BUTTONS[button] },
  ]
  const mouse = [
    at
      ? { type: 'pointerMove', duration: 0, origin: 'viewport', x: Math.round(at.x), y: Math.round(at.y) }
      : { type: 'pointerMove', duration: 0, origin: element, x: 0, y: 0 },
    ...Array.from({ length: times }, () => once).flat(),
  ]
  const keys = held.map(keyOf)
  const meanwhile = mouse.map(() => NOTHING)
  const down = keys.map((value) => ({ type: 'keyDown', value }))
  const up = keys.toReversed().map((value) => ({ type: 'keyUp', value }))
  return [
    { type: 'key', id: 'keys', actions: [...down, ...meanwhile, ...up] },
    {
      type: 'pointer',
      id: 'mouse',
      parameters: { pointerType: 'mouse' },
      actions: [...keys.map(() => NOTHING), ...mouse],
    },
  ]
}

/** The mouse rests on the middle of an element. */
export const hoverActions = (element: ElementRef): object[] => [
  {
    type: 'pointer',
    id: 'mouse',
    parameters: { pointerType: 'mouse' },
    actions: [{ type: 'pointerMove', duration: 0, origin: element, x: 0, y: 0 }],
  },
]

/** Keys one after the other, as `keyOf` writes them. */
export const keyActions = (keys: string): object[] => [
  {
    type: 'key',
    id: 'keys',
    actions: [...keys].flatMap((value) => [
      { type: 'keyDown', value },
      { type: 'keyUp', value },
    ]),
  },
]

/** One doing of a person, as it comes. What is down stays down until it comes up. */
export function inputActions(order: Input): object[] {
  switch (order.do) {
    case 'mouse': {
      const { type, button, x, y, with: held } = order
      const move = {
        type: 'pointerMove',
        duration: 0,
        origin: 'viewport',
        x: Math.round(x),
        y: Math.round(y),
      }
      const keys = held.map(keyOf)
      const isMove = type === 'move' || button === 'none'
      const doing = isMove
        ? []
        : [{ type: type === 'down' ? 'pointerDown' : 'pointerUp', button: BUTTONS[button] }]
      const mouse = [move, ...keys.map(() => NOTHING), ...doing, ...keys.map(() => NOTHING)]
      const down = keys.map((value) => ({ type: 'keyDown', value }))
      const up = keys.toReversed().map((value) => ({ type: 'keyUp', value }))
      return [
        { type: 'key', id: 'keys', actions: [NOTHING, ...down, ...doing.map(() => NOTHING), ...up] },
        { type: 'pointer', id: 'mouse', parameters: { pointerType: 'mouse' }, actions: mouse },
      ]
    }
    case 'wheel':
      return [
        {
          type: 'wheel',
          id: 'wheel',
          actions: [
            {
              type: 'scroll',
              duration: 0,
              origin: 'viewport',
              x: Math.round(order.x),
              y: Math.round(order.y),
              deltaX: Math.round(order.dx),
              deltaY: Math.round(order.dy),
            },
          ],
        },
      ]
    case 'key': {
      const type = order.type === 'down' ? 'keyDown' : 'keyUp'
      return [{ type: 'key', id: 'keys', actions: [{ type, value: keyOf(order.key) }] }]
    }
    case 'text':
      return keyActions(order.text)
  }
}

const [DRAG_STEPS, DRAG_STEP_MS] = [10, 30]

/** Takes an element by its middle to the middle of another. It is moved a little first, and a little at its
 * place: a page that follows the pointer sees it come. The place is where the other element was at first: it
 * may make room. */
export function dragActions(from: ElementRef, to: ElementRef): object[] {
  const move = (origin: ElementRef, x: number, y: number, duration = DRAG_STEP_MS) => ({
    type: 'pointerMove',
    duration,
    origin,
    x,
    y,
  })
  const nudges = Array.from({ length: DRAG_STEPS }, (_, i) => move(from, i + 1, i + 1))
  return [
    {
      type: 'pointer',
      id: 'mouse',
      parameters: { pointerType: 'mouse' },
      actions: [
        move(from, 0, 0, 0),
        { type: 'pointerDown', button: BUTTONS.left },
        ...nudges,
        move(to, 1, 1, DRAG_STEPS * DRAG_STEP_MS),
        { type: 'pointerMove', duration: DRAG_STEP_MS, origin: 'pointer', x: -1, y: -1 },
        { type: 'pointerUp', button: BUTTONS.left },
      ],
    },
  ]
}
