import type { ElementFacts } from '@/core/live'
import type { Input, Seen } from '../driver/live'
import { LastDoing } from './last-doing'

const BUTTON = { tag: 'button', role: 'button', name: 'Pay', css: '#pay' } as ElementFacts
const FIELD = { tag: 'input', role: 'textbox', name: 'Berth', css: '#berth' } as ElementFacts
const HERE = 'https://ferry.example/berths'
const AWAY = 'https://pay.example/card'

const mouse = (type: 'down' | 'up', x = 10, button: 'left' | 'right' = 'left'): Input =>
  ({ do: 'mouse', type, x, y: 10, button, clicks: 1, with: [] }) as Input
const enter: Input = { do: 'key', type: 'down', key: 'Enter', code: 'Enter', with: [] }

function page() {
  const at = { url: HERE, ms: 0 }
  const doing = new LastDoing(
    {
      origin: async () => (at.url === 'about:blank' ? 'null' : new URL(at.url).origin),
      factsAt: async () => BUTTON,
    },
    () => at.ms,
  )
  const click = async (to = 10, button: 'left' | 'right' = 'left') => {
    await doing.before(mouse('down', 10, button))
    await doing.before(mouse('up', to, button))
  }
  return { at, doing, click }
}

test('a click is told once by what was under it, when another site’s page is there', async () => {
  const { at, doing, click } = page()
  await click()
  expect(await doing.lost()).toBeUndefined()
  at.url = AWAY
  expect(await doing.lost()).toEqual({
    kind: 'click',
    element: BUTTON,
    button: 'left',
    times: 1,
    with: [],
    byKey: false,
  })
  expect(await doing.lost()).toBeUndefined()
})
test('a key is told of the field that was written in last', async () => {
  const { at, doing } = page()
  doing.told({ kind: 'input', element: FIELD, value: '7' } as Seen)
  await doing.before(enter)
  at.url = AWAY
  expect(await doing.lost()).toEqual({ kind: 'key', key: 'Enter', with: [], element: FIELD })
})
test.each<[string, (made: ReturnType<typeof page>) => Promise<void> | void]>([
  ['what the page told itself', ({ doing }) => doing.told({ kind: 'click', element: BUTTON } as Seen)],
  ['what the pointer drew away from', ({ doing }) => doing.before(mouse('up', 80))],
  ['what went on long after it', ({ at }) => void (at.ms = 60_000)],
])('nothing is told of %s', async (_, then) => {
  const made = page()
  await made.click()
  await then(made)
  made.at.url = AWAY
  expect(await made.doing.lost()).toBeUndefined()
})
test('nothing is told of another button, of the same site, and of what is no page of a site', async () => {
  const { at, doing, click } = page()
  await click(10, 'right')
  at.url = AWAY
  expect(await doing.lost()).toBeUndefined()
  await click()
  at.url = 'https://pay.example/thanks'
  expect(await doing.lost()).toBeUndefined()
  at.url = 'about:blank'
  expect(await doing.lost()).toBeUndefined()
})
test('what was told as lost is not told once more by its own page, when it is come back to', async () => {
  const { at, doing, click } = page()
  const own = { kind: 'click', element: BUTTON } as Seen
  expect(doing.gaveAlready(own)).toBe(false)
  await click()
  at.url = AWAY
  await doing.lost()
  expect(doing.gaveAlready({ kind: 'click', element: FIELD } as Seen)).toBe(false)
  expect(doing.gaveAlready(own)).toBe(true)
  expect(doing.gaveAlready(own)).toBe(false)
})
