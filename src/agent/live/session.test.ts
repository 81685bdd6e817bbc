import type { LiveOrder, LiveWord, PersonsVerdict } from '@/core/live'
import type { Step } from '@/core/model'
import type { NumberedEvent } from '@/core/execution'
import type { Seen } from '../driver/live'
import { DriverFault } from '../driver/port'
import { attempt, seen } from '../interpreter/testing/scripted'
import { until } from '../driver/testing/patience'
import type { LiveChannel } from './channel'
import { click, session } from './testing/session'

const FIELD = { tag: 'input', type: 'text', label: 'Passengers', counts: { label: 1 } }
const typed = (value: string): Seen => ({ kind: 'input', element: FIELD, value })
const clicked: Seen = {
  kind: 'click',
  element: { tag: 'button', role: 'button', name: 'Find', counts: { role: 1 } },
  button: 'left',
  times: 1,
  with: [],
  byKey: false,
}
const MOUSE: LiveOrder = { do: 'mouse', type: 'down', x: 1, y: 1, button: 'left', clicks: 1, with: [] }

const END: LiveOrder = { do: 'end', undo: true }
const words = (events: readonly NumberedEvent[]) =>
  events.flatMap((event) =>
    event.type === 'step-started' ? [`${event.words.verb} ${event.words.object}`] : [],
  )
const isStep = (id: string, mark: string) => (word: LiveWord) =>
  word.say === 'step' && word.id === id && word.mark === mark

test('nothing is carried out by itself; steps are when they are asked for, up to one that fails', async () => {
  const { result, done, said } = await session(async (person) => {
    const steps = ['Go', 'Nowhere', 'Pay'].map((text) => ({ id: text, step: click(text) }))
    person.order({ do: 'steps', steps })
    await person.said(isStep('Nowhere', 'errored'))
    await person.said((word) => word.say === 'state' && !word.working)
    person.order(END)
  })
  expect(result.outcome).toBe('passed')
  expect(done).toEqual(['click Go', 'click Nowhere', 'close'])
  expect(said).toContainEqual(expect.objectContaining({ say: 'step', id: 'Go', mark: 'passed' }))
  expect(said.some((word) => word.say === 'step' && word.id === 'Pay')).toBe(false)
})

test('what somebody noticed to be wrong is how the session ends; a note changes nothing', async () => {
  const noting = (...notes: { text: string; wrong: boolean }[]) =>
    session(async (person) => {
      for (const note of notes) person.order({ do: 'remark', ...note, by: 'Priya Castellan' })
      await until(async () => person.words().length > 0)
      person.order({ do: 'steps', steps: [{ id: 'after', step: click('Go') }] })
      await person.said(isStep('after', 'passed'))
      person.order(END)
    })
  const { result } = await noting(
    { text: 'The fares jump', wrong: false },
    { text: 'The total is too low', wrong: true },
    { text: 'And the date', wrong: true },
  )
  expect(result).toMatchObject({
    outcome: 'failed',
    failure: { kind: 'check', message: 'The total is too low', path: 'main.1' },
  })
  expect((await noting({ text: 'The fares jump', wrong: false })).result.outcome).toBe('passed')
})

test('a step that failed is changed and tried again', async () => {
  const { done } = await session(async (person) => {
    person.order({ do: 'steps', steps: [{ id: '1', step: click('Nowhere') }] })
    await person.said(isStep('1', 'errored'))
    person.order({ do: 'steps', steps: [{ id: '1', step: click('Pay') }] })
    await person.said(isStep('1', 'passed'))
    person.order(END)
  })
  expect(done).toEqual(['click Nowhere', 'click Pay', 'close'])
})

test('what is done by hand is told as steps, and stands in the log, recorded or not', async () => {
  const { events, said } = await session(async (person) => {
    person.does(typed('3'))
    await person.recorded(1)
    person.order({ do: 'record', on: false })
    await person.said((word) => word.say === 'state' && !word.recording)
    person.does(clicked)
    person.order(END)
  })
  expect(words(events)).toEqual(['by hand: type Passengers', 'by hand: click Find'])
  expect(said.some((word) => word.say === 'recorded' && word.steps.length > 1)).toBe(false)
})

test('what was taken along is not told again', async () => {
  const { said } = await session(async (person) => {
    person.does(typed('3'))
    await person.recorded(1)
    person.order({ do: 'forget' })
    await person.recorded(0)
    person.does(clicked)
    await person.recorded(1)
    person.order(END)
  })
  const last = said.findLast((word) => word.say === 'recorded')
  expect(last?.steps.map(({ step }) => step.verb)).toEqual(['click'])
})

const MADE_UP = [{ kind: 'click' }, { kind: 'input', element: null }, { kind: 'drag', element: {} }, {}, null]

test('what a page makes up and is no event ends nothing, and makes no step', async () => {
  const { said } = await session(async (person) => {
    for (const wrong of MADE_UP) person.does(wrong as unknown as Seen)
    person.does(clicked)
    await person.recorded(1)
    person.order(END)
  })
  expect(said.findLast((word) => word.say === 'recorded')!.steps[0]!.step.verb).toBe('click')
})

test('a value is changed for the steps that follow; one that is not there is none', async () => {
  const { said } = await session(async (person) => {
    const read: Step = { verb: 'read', of: { text: 'Go' }, as: 'reference', handoff: false }
    person.order({ do: 'steps', steps: [{ id: 'r', step: read }] })
    await person.said(isStep('r', 'passed'))
    person.order({ do: 'set', name: 'reference', value: 'FS-40121' })
    person.order({ do: 'set', name: 'toString', value: 'x' })
    await person.said((word) => word.say === 'state' && word.values.reference === 'FS-40121')
    person.order(END)
  })
  const last = said.findLast(({ say }) => say === 'state') as Extract<LiveWord, { say: 'state' }>
  expect(Object.keys(last.values)).toEqual(['reference'])
})

test('an address of no application is a problem told, and the session goes on', async () => {
  const { result, did } = await session(async (person) => {
    person.order({ do: 'open', address: 'nowhere:/' })
    const problem = await person.said(({ say }) => say === 'problem')
    expect(problem).toMatchObject({ message: expect.stringContaining('nowhere') as string })
    person.order(MOUSE)
    person.order({ do: 'choose', values: ['t'] })
    person.order({ do: 'pick', x: 1, y: 1 })
    await person.said(({ say }) => say === 'picked')
    person.order(END)
  })
  expect(result.outcome).toBe('passed')
  expect(did).toEqual(['mouse', 'choose t', 'left', 'closed'])
})

test('a page that stops holds nothing up: it is told, and what follows is done', async () => {
  const { did } = await session(async (person) => {
    person.order({ do: 'wheel', x: 1, y: 1, dx: 0, dy: 9 })
    person.order(MOUSE)
    const problem = await person.said(({ say }) => say === 'problem')
    expect(problem).toMatchObject({ message: expect.stringContaining('does not answer') as string })
    person.order({ do: 'pick', x: 1, y: 1 })
    await person.said(({ say }) => say === 'picked')
    person.order(END)
  })
  expect(did).toEqual(['wheel', 'mouse', 'left', 'closed'])
})

test('no secret is told, whatever it stands in', async () => {
  const { said } = await session(
    async (person) => {
      person.does(typed('low-tide'))
      await person.recorded(1)
      person.isAsked('Is it low-tide?')
      person.order({ do: 'pick', x: 1, y: 1 })
      await person.said(({ say }) => say === 'picked')
      person.order({ do: 'open', address: 'low-tide:/' })
      await person.said(({ say }) => say === 'problem')
      person.order(END)
    },
    undefined,
    { WORD: 'low-tide' },
  )
  expect(said.map(({ say }) => say)).toEqual(
    expect.arrayContaining(['recorded', 'dialog', 'picked', 'problem']),
  )
  expect(JSON.stringify(said)).not.toContain('low-tide')
})

test('a browser that goes away ends the session, and says why', async () => {
  let go!: (fault: DriverFault) => void
  const broken = new Promise<DriverFault>((resolve) => (go = resolve))
  const { result, did } = await session(
    async () => go(new DriverFault('page', 'the browser is gone')),
    undefined,
    {},
    { broken },
  )
  expect(result).toMatchObject({ outcome: 'errored', failure: { message: 'the browser is gone' } })
  expect(did).toEqual(['left', 'closed'])
})

test('a browser that cannot be steered says so', async () => {
  const { result } = await attempt([click('Go')], { Go: seen('') }, { live: () => ({}) as LiveChannel })
  expect(result).toMatchObject({
    outcome: 'errored',
    failure: { kind: 'agent', message: expect.stringContaining('cannot be steered') as string },
  })
})

const LOOK: Step = { verb: 'do', words: 'Look at the card', expected: 'Two seats' }

test('a step for a person waits for what they say of it; the browser is theirs meanwhile', async () => {
  const { said, did, events } = await session(async (person) => {
    const judged = async (id: string, is: PersonsVerdict, note = '') => {
      const before = said().length
      person.order({ do: 'steps', steps: [{ id, step: { verb: 'block', title: 'By eye', steps: [LOOK] } }] })
      await until(async () =>
        said()
          .slice(before)
          .some((word) => word.say === 'judge' && word.asked !== null),
      )
      person.order(MOUSE)
      await until(async () => person.did().includes('mouse'))
      person.order({ do: 'verdict', is, note, by: 'Priya' })
      await person.said((word) => word.say === 'step' && word.id === id && word.mark !== 'running')
      await until(async () => said().findLast((word) => word.say === 'state')!.working === false)
    }
    const said = person.words
    await judged('a', 'passed', 'both are there')
    await judged('b', 'failed', 'one seat')
    await judged('c', 'cannot')
    await judged('d', 'skipped')
    person.order(END)
  })
  expect(said).toContainEqual({
    say: 'judge',
    asked: { words: 'Look at the card', expected: 'Two seats' },
  })
  expect(said.findLast(({ say }) => say === 'judge')).toEqual({ say: 'judge', asked: null })
  const marks = said.filter((word) => word.say === 'step' && word.mark !== 'running')
  expect(marks).toMatchObject([
    { mark: 'passed' },
    { mark: 'failed', failure: { kind: 'check', expected: 'Two seats', actual: 'one seat' } },
    { mark: 'errored', failure: { message: 'Priya could not do it' } },
    { mark: 'passed' },
  ])
  expect(events).toContainEqual(expect.objectContaining({ note: 'seen by Priya: both are there' }))
  expect(events).toContainEqual(expect.objectContaining({ outcome: 'skipped', note: 'passed over by Priya' }))
  expect(did.filter((one) => one === 'mouse')).toHaveLength(4)
})

test('Stop ends the waiting for a person, too', async () => {
  const { said } = await session(async (person) => {
    const steps = [LOOK, click('Go')].map((step, i) => ({ id: String(i), step }))
    person.order({ do: 'steps', steps })
    await person.said((word) => word.say === 'judge' && word.asked !== null)
    person.order({ do: 'stop' })
    await person.said(isStep('0', 'passed'))
    await person.said((word) => word.say === 'judge' && word.asked === null)
    person.order(END)
  })
  expect(said.some((word) => word.say === 'step' && word.id === '1')).toBe(false)
})

test('a dialog waits for the person, who is told; what is done meanwhile goes nowhere', async () => {
  const { said, did } = await session(async (person) => {
    person.order(MOUSE)
    person.does(clicked)
    const answer = person.opens('How many?')
    await person.said((word) => word.say === 'asks' && word.dialog?.words === 'How many?')
    person.order({ ...MOUSE, type: 'up' })
    person.order({ do: 'dialog', answer: 'accept', text: '3' })
    expect(await answer).toEqual({ accept: true, text: '3' })
    person.isAsked('How many?') // the browser says how it was answered: nobody has to hear that once more
    await person.recorded(2)
    person.order(END)
  })
  expect(did.filter((one) => one === 'mouse')).toHaveLength(1)
  expect(said.filter(({ say }) => say === 'asks').at(-1)).toEqual({ say: 'asks', dialog: null })
  expect(said.some(({ say }) => say === 'dialog')).toBe(false)
  const recorded = said.findLast((word) => word.say === 'recorded')!.steps
  expect(recorded.map(({ step }) => step.verb)).toEqual(['dialog', 'click'])
})

test('a page that opens dialogs without end asks for a few of them, until something is done again', async () => {
  await session(async (person) => {
    const answered = async (): Promise<boolean> => {
      const answer = person.opens('storm')
      person.order({ do: 'dialog', answer: 'dismiss' })
      return (await answer) !== undefined
    }
    const rounds = []
    for (let i = 0; i < 7; i++) rounds.push(await answered())
    expect(rounds.filter(Boolean)).toHaveLength(5)
    person.order(MOUSE)
    expect(await answered()).toBe(true)
    person.order(END)
  })
})
