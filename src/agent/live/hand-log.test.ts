import type { RecordedEvent } from '@/core/live'
import { HandLog } from './hand-log'

const CLICK: RecordedEvent = {
  kind: 'click',
  atMs: 5,
  element: { tag: 'button', role: 'button', name: 'Find', counts: { role: 1 } },
  button: 'left',
  times: 1,
  with: [],
  byKey: false,
}

function handLog(screen: () => Promise<void> = async () => {}) {
  const said: Record<string, unknown>[] = []
  const screens: string[] = []
  const hide = <T>(value: T): T => JSON.parse(JSON.stringify(value).replaceAll('low-tide', '••••')) as T
  const log = {
    say: (event: Record<string, unknown>) => void said.push(event),
    hide,
    gather: () => {},
    screen: async (_: unknown, path: string) => {
      screens.push(path)
      await screen()
    },
  }
  let next = 0
  const parts = { log, driver: {}, pace: { now: () => 0 } } as never
  return { log: new HandLog(parts, () => `main.${next++}`), said, screens }
}

test('what was noticed comes after what was done before it, with the screen and the name', async () => {
  const { log, said, screens } = handLog()
  log.add(CLICK)
  await log.remark('The fares jump', false, 'Priya Castellan')
  expect(said.map(({ type, path, outcome }) => [type, path, outcome])).toEqual([
    ['step-started', 'main.0', undefined],
    ['step-ended', 'main.0', 'passed'],
    ['step-started', 'main.1', undefined],
    ['step-ended', 'main.1', 'passed'],
  ])
  expect(said[2]).toMatchObject({
    words: { verb: 'noted', object: 'The fares jump', detail: 'by Priya Castellan' },
  })
  expect(screens).toEqual(['main.0', 'main.1'])
})

test('what is wrong is a failed check: a defect can be drafted from it', async () => {
  const { log, said } = handLog()
  await log.remark('The total is 3.20 too low', true, 'Priya Castellan')
  expect(said.at(-1)).toMatchObject({
    outcome: 'failed',
    failure: { kind: 'check', message: 'The total is 3.20 too low' },
  })
})

test('secrets are in no note, and a screen that cannot be taken keeps no note back', async () => {
  const { log, said } = handLog(() => Promise.reject(new Error('it does not paint')))
  await log.remark('It shows low-tide', true, 'Priya Castellan')
  expect(JSON.stringify(said)).not.toContain('low-tide')
  expect(said.at(-1)).toMatchObject({ outcome: 'failed' })
})

test('a click that turns out to be none keeps nothing out that is done after it', async () => {
  const { log, said } = handLog()
  const ground = { tag: 'body', counts: {} }
  log.add({ ...CLICK, atMs: 1, element: ground })
  await log.write(true)
  log.add({ kind: 'answered', atMs: 2, is: false })
  log.add(CLICK)
  await log.write(true)
  const words = said.flatMap((event) => (event.type === 'step-started' ? [event.words] : []))
  expect(words.at(-1)).toMatchObject({ verb: 'by hand: click', object: 'Find' })
  await log.write(true)
  expect(said.filter(({ type }) => type === 'step-started')).toHaveLength(words.length)
})
