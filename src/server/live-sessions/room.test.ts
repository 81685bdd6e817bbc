import { frameOf, readFrame, type LiveNotice, type LiveWord } from '@/core/live'
import { NOBODY_MS, Room, type Line } from './room'

type Said = LiveWord | LiveNotice
class End implements Line {
  readonly heard: (Said | Uint8Array)[] = []
  waiting = 0
  closed: string | undefined
  send(message: string | Uint8Array): void {
    this.heard.push(typeof message === 'string' ? (JSON.parse(message) as Said) : message)
  }
  close(why: string): void {
    this.closed = why
  }
  of = (say: string) => this.heard.filter((one) => !(one instanceof Uint8Array) && one.say === say)
  newest = (say: string) => this.of(say).at(-1)
  orders = () => this.heard as unknown as { do: string }[]
  get frames() {
    return this.heard.filter((one) => one instanceof Uint8Array)
  }
}

let waits: { ms: number; act(): void }[]
let emptied: number
const room = () => {
  waits = []
  emptied = 0
  return new Room({
    readSteps: async (asked) => {
      if (asked.some(({ form }) => 'wrong' in form)) throw new Error('“wrong” is no step')
      return asked.map(({ id }) => ({ id, step: { verb: 'note', text: id } }))
    },
    readRow: async (index) => {
      if (index > 2) throw new Error('The table of this case has no row 3.')
      return { from: 'Skerrow' }
    },
    later: (ms, act) => {
      const wait = { ms, act }
      waits.push(wait)
      return () => void (waits = waits.filter((one) => one !== wait))
    },
    onEmpty: () => emptied++,
  })
}
const WREN = { name: 'Wren Adeyemi', mayDrive: true }
const MIRELA = { name: 'Mirela Voss', mayDrive: true }
const EDDA = { name: 'Edda Ruiz', mayDrive: false }
const STATE: LiveWord = {
  say: 'state',
  url: 'http://desk/',
  windows: [],
  shown: 0,
  recording: true,
  working: false,
  values: {},
  leftMs: 1000,
}
const click = JSON.stringify({ do: 'mouse', type: 'down', x: 1, y: 2, button: 'left', clicks: 1, with: [] })
const jpeg = frameOf(1280, 800, new Uint8Array([0xff, 0xd8, 1, 2]))

test('the first who may drives; others watch, and what they do reaches no browser', async () => {
  const live = room()
  const [agent, wren, mirela, edda] = [new End(), new End(), new End(), new End()]
  live.agentCame(agent)
  const watcher = live.personCame(EDDA, edda)!
  const driver = live.personCame(WREN, wren)!
  const second = live.personCame(MIRELA, mirela)!
  expect(wren.newest('people')).toMatchObject({ you: driver, driver })
  for (const id of [watcher, second]) await live.personSaid(id, click)
  expect(agent.orders()).toEqual([])
  await live.personSaid(driver, click)
  expect(agent.orders()).toHaveLength(1)
})

test('driving is asked for, handed over, and never given to who only watches', async () => {
  const live = room()
  const [agent, wren, mirela, edda] = [new End(), new End(), new End(), new End()]
  live.agentCame(agent)
  const [driver, second, watcher] = [
    live.personCame(WREN, wren)!,
    live.personCame(MIRELA, mirela)!,
    live.personCame(EDDA, edda)!,
  ]
  await live.personSaid(second, JSON.stringify({ do: 'drive' }))
  expect(wren.newest('asked')).toEqual({ say: 'asked', who: second })
  await live.personSaid(driver, JSON.stringify({ do: 'hand-over', to: watcher }))
  expect(wren.newest('people')).toMatchObject({ driver })
  await live.personSaid(driver, JSON.stringify({ do: 'hand-over', to: second }))
  expect(mirela.newest('people')).toMatchObject({ driver: second })
  live.personLeft(second)
  expect(wren.newest('people')).toMatchObject({ driver })
  live.personLeft(driver)
  expect(edda.newest('people')).toMatchObject({ driver: null })
})

test('who comes later knows what stands, and sees the newest picture', () => {
  const live = room()
  const [agent, wren] = [new End(), new End()]
  live.agentCame(agent)
  live.agentSaid(agent, JSON.stringify(STATE))
  live.agentSaid(agent, JSON.stringify({ ...STATE, url: 'http://gate/' }))
  live.agentSaid(agent, JSON.stringify({ say: 'problem', message: 'gone by' }))
  live.agentSaid(agent, jpeg)
  live.personCame(WREN, wren)
  expect(wren.of('state')).toMatchObject([{ url: 'http://gate/' }])
  expect(wren.of('problem')).toEqual([])
  expect(wren.frames).toEqual([jpeg])
})

test('a file goes to who steers, and to nobody else', () => {
  const live = room()
  const [agent, wren, mirela] = [new End(), new End(), new End()]
  live.agentCame(agent)
  live.personCame(WREN, wren)
  live.personCame(MIRELA, mirela)
  const file = { say: 'file', name: 'card.txt', part: 1, of: 1, data: 'Y2FyZA==' }
  live.agentSaid(agent, JSON.stringify(file))
  expect([wren.of('file'), mirela.of('file')]).toEqual([[file], []])
  live.personCame(WREN, new End())
  expect(wren.of('file')).toHaveLength(1)
})

test('who is slow gets fewer pictures, and the others all', () => {
  const live = room()
  const [agent, slow, quick] = [new End(), new End(), new End()]
  live.agentCame(agent)
  live.personCame(WREN, slow)
  live.personCame(MIRELA, quick)
  slow.waiting = 10_000_000
  for (let i = 0; i < 3; i++) live.agentSaid(agent, jpeg)
  expect([slow.frames.length, quick.frames.length]).toEqual([0, 3])

  // a page that rests makes no other picture: the last one comes when their line is free again
  const look = () => waits.splice(0).forEach(({ act }) => act())
  look()
  expect(slow.frames).toHaveLength(0)
  slow.waiting = 0
  look()
  expect(slow.frames).toEqual([jpeg])
  look()
  expect(slow.frames).toHaveLength(1)
})

test('who is behind and leaves is given nothing any more', () => {
  const live = room()
  const [agent, slow] = [new End(), new End()]
  live.agentCame(agent)
  const id = live.personCame(WREN, slow)!
  slow.waiting = 10_000_000
  live.agentSaid(agent, jpeg)
  live.personLeft(id)
  slow.waiting = 0
  for (const { ms, act } of waits) if (ms < NOBODY_MS) act()
  expect(slow.frames).toHaveLength(0)
})

test.each([
  ['no JSON', 'x'],
  ['no kind', '{}'],
  ['of nowhere', '{"do":"constructor"}'],
  ['a point of nowhere', JSON.stringify({ do: 'point', x: 'a', y: 1 })],
  ['a field too many', JSON.stringify({ do: 'drive', more: 1 })],
  ['steps as an agent gets them', JSON.stringify({ do: 'steps', steps: [] })],
])('a person who says %s is cut off, and nobody else', async (_, message) => {
  const live = room()
  const [agent, wren, mirela] = [new End(), new End(), new End()]
  live.agentCame(agent)
  const id = live.personCame(WREN, wren)!
  live.personCame(MIRELA, mirela)
  await live.personSaid(id, message)
  expect([wren.closed, mirela.closed, agent.closed]).toEqual([expect.any(String), undefined, undefined])
  expect(agent.orders()).toEqual([])
})

test.each([
  ['another word', JSON.stringify({ say: 'people', you: 1 })],
  ['a script for a picture', Buffer.from('<script>alert(1)</script>')],
  ['a place that is none', JSON.stringify({ say: 'located', count: 1, box: { x: 'a' } })],
])('what an agent may not say reaches nobody: %s', (_, message) => {
  const live = room()
  const [agent, wren] = [new End(), new End()]
  live.agentCame(agent)
  live.personCame(WREN, wren)
  const before = wren.heard.length
  live.agentSaid(agent, message)
  expect(wren.heard.length).toBe(before)
})

test('steps are read before the agent gets them; what is wrong with them is told', async () => {
  const live = room()
  const [agent, wren] = [new End(), new End()]
  live.agentCame(agent)
  const id = live.personCame(WREN, wren)!
  const play = (form: object) =>
    live.personSaid(id, JSON.stringify({ do: 'play', steps: [{ id: '1', form }] }))
  await play({ wrong: true })
  expect(wren.newest('problem')).toMatchObject({ message: '“wrong” is no step' })
  expect(agent.orders()).toEqual([])
  await play({ note: 'tide' })
  expect(agent.orders()).toEqual([{ do: 'steps', steps: [{ id: '1', step: { verb: 'note', text: '1' } }] }])
})

test('a row comes with its values; one that is not there is told, and the agent hears nothing', async () => {
  const live = room()
  const [agent, wren] = [new End(), new End()]
  live.agentCame(agent)
  const id = live.personCame(WREN, wren)!
  await live.personSaid(id, JSON.stringify({ do: 'row', index: 3 }))
  expect(wren.newest('problem')).toMatchObject({ message: 'The table of this case has no row 3.' })
  await live.personSaid(id, JSON.stringify({ do: 'row', index: 2 }))
  expect(agent.orders()).toEqual([{ do: 'row', index: 2, values: { from: 'Skerrow' } }])
})

test('a session that nobody looks at is ended, unless somebody comes back in time', () => {
  const live = room()
  const [agent, wren] = [new End(), new End()]
  live.agentCame(agent)
  expect(waits.map(({ ms }) => ms)).toEqual([NOBODY_MS])
  const id = live.personCame(WREN, wren)!
  expect(waits).toEqual([])
  live.personLeft(id)
  waits[0]!.act()
  expect(agent.orders()).toEqual([{ do: 'end', undo: true }])
})

test('of two lines of an agent the later counts; when all left the room is gone', () => {
  const live = room()
  const [before, agent, wren] = [new End(), new End(), new End()]
  live.agentCame(before)
  const id = live.personCame(WREN, wren)!
  live.agentCame(agent)
  expect(before.closed).toBeDefined()
  live.agentSaid(before, JSON.stringify(STATE))
  live.agentLeft(before)
  expect([wren.of('state'), wren.newest('agent')]).toEqual([[], { say: 'agent', here: true }])
  live.agentLeft(agent)
  expect([wren.newest('agent'), emptied]).toEqual([{ say: 'agent', here: false }, 0])
  live.personLeft(id)
  expect(emptied).toBe(1)
})

test('a frame is its size and a JPEG; anything else is none', () => {
  expect(readFrame(jpeg)).toMatchObject({ width: 1280, height: 800 })
  expect(readFrame(new Uint8Array([0, 1, 0, 1, 0x89, 0x50]))).toBeUndefined()
  expect(readFrame(new Uint8Array(3))).toBeUndefined()
})

test('a verdict goes with the name of who gave it, whatever they call themselves; who comes later is asked, too', async () => {
  const live = room()
  const [agent, wren, mirela] = [new End(), new End(), new End()]
  live.agentCame(agent)
  const driver = live.personCame(WREN, wren)!
  const asked = { words: 'Look at the card', expected: 'Two seats' }
  live.agentSaid(agent, JSON.stringify({ say: 'judge', asked } satisfies LiveWord))
  live.personCame(MIRELA, mirela)
  expect(mirela.newest('judge')).toEqual({ say: 'judge', asked })
  await live.personSaid(driver, JSON.stringify({ do: 'verdict', is: 'failed', note: 'one seat' }))
  expect(agent.orders()).toEqual([{ do: 'verdict', is: 'failed', note: 'one seat', by: 'Wren Adeyemi' }])
  await live.personSaid(driver, JSON.stringify({ do: 'verdict', is: 'passed', note: '', by: 'Edda Ruiz' }))
  expect(wren.closed).toBeDefined()
})

test('who watches writes down what they notice, by their name; a viewer does not', async () => {
  const live = room()
  const [agent, wren, mirela, edda] = [new End(), new End(), new End(), new End()]
  live.agentCame(agent)
  live.personCame(WREN, wren)
  const watches = live.personCame(MIRELA, mirela)!
  const views = live.personCame({ name: 'Edda Ruiz', mayDrive: false }, edda)!
  const noticed = JSON.stringify({ do: 'remark', text: 'The fares jump', wrong: true })
  await live.personSaid(views, noticed)
  await live.personSaid(watches, noticed)
  expect(agent.orders()).toEqual([{ do: 'remark', text: 'The fares jump', wrong: true, by: MIRELA.name }])
})
