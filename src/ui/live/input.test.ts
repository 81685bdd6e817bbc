import { keyOrder, leaves, mouseOrder, pointIn } from './input'

const NONE = { shiftKey: false, ctrlKey: false, altKey: false, metaKey: false }
const key = (name: string, more = {}) => ({ ...NONE, key: name, code: name, isComposing: false, ...more })
const shown = { left: 100, top: 50, width: 640, height: 400 }
const view = { width: 1280, height: 800 }

test.each([
  ['its corner', 100, 50, { x: 0, y: 0 }],
  ['its middle', 420, 250, { x: 640, y: 400 }],
  ['outside, as its edge', 5000, -5, { x: 1279, y: 0 }],
])('a point of a smaller picture is one of the view: %s', (_, clientX, clientY, expected) => {
  expect(pointIn({ clientX, clientY }, shown, view)).toEqual(expected)
})

test('a click says its button, how many in a row, and the keys that are held', () => {
  const event = { ...NONE, clientX: 0, clientY: 0, button: 2, detail: 2, ctrlKey: true }
  expect(mouseOrder('down', event, { x: 1, y: 2 })).toEqual({
    do: 'mouse',
    type: 'down',
    x: 1,
    y: 2,
    button: 'right',
    clicks: 2,
    with: ['Control'],
  })
  expect(mouseOrder('move', event, { x: 1, y: 2 })).toMatchObject({ button: 'none', clicks: 0 })
})

test.each([
  ['while a letter is composed', key('a', { isComposing: true })],
  ['of a dead key', key('Dead')],
  ['of pasting: its text comes by itself', key('v', { ctrlKey: true })],
  ['that leaves the picture', key('Escape', { shiftKey: true })],
])('a key is not the page’s %s', (_, event) => expect(keyOrder('down', event)).toBeUndefined())

test('other keys go to the page, Escape too', () => {
  expect(keyOrder('down', key('Escape'))).toMatchObject({ key: 'Escape', with: [] })
  expect(keyOrder('up', key('a', { shiftKey: true }))).toMatchObject({ type: 'up', with: ['Shift'] })
  expect(leaves(key('Escape'))).toBe(false)
})
