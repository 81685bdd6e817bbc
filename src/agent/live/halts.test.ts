import type { Held, PlacedStop } from '@/core/live'
import type { Routine, Step } from '@/core/model'
import { StepFault } from '../interpreter/fault'
import { Halts } from './halts'

const note = (text: string): Step => ({ verb: 'note', text })
const LOOP: Step = {
  verb: 'repeat',
  times: 3,
  steps: [
    note('sail'),
    {
      verb: 'if',
      condition: { visible: { text: 'storm' } },
      steps: [note('wait')],
      otherwise: [note('moor')],
    },
  ],
}
const [SAIL, BRANCH] = (LOOP as { steps: Step[] }).steps as [Step, { otherwise: Step[] } & Step]
const [MOOR] = BRANCH.otherwise

let held: (Held | null)[]
const halts = (stops: PlacedStop[], isSo: () => boolean = () => true) => {
  held = []
  const made = new Halts(
    (one) => held.push(one),
    async () => isSo(),
  )
  made.begin([{ step: LOOP, stops }])
  return made
}
const GO_ON = { stepping: false, recover: true }

test('a step within another is held until a person has it go on, and only that one', async () => {
  const made = halts([{ at: ['steps', 1, 'else', 0] }])
  await made.before(SAIL, 'main.0')
  expect(made.isOpen).toBe(false)
  const waiting = made.before(MOOR!, 'main.0')
  await Promise.resolve()
  await Promise.resolve()
  expect(held).toEqual([{ words: 'note moor' }])
  expect(made.take(GO_ON)).toBe(true)
  await waiting
  expect(held.at(-1)).toBeNull()
})

test('from the third time on, and only when a condition holds', async () => {
  const times = [true, false, true, true]
  const made = halts([{ at: ['steps', 0], from: 2, when: { visible: { text: 'x' } } }], () => times.shift()!)
  const reached = []
  for (let i = 0; i < 5; i++) reached.push(await made.isAt(SAIL))
  expect(reached).toEqual([false, true, false, true, true])
})

test('a condition that cannot be judged is looked at by a person', async () => {
  const made = halts([{ at: ['steps', 0], when: { value: '${nothing}', is: { equals: '1' } } }], () => {
    throw new Error('unknown')
  })
  expect(await made.isAt(SAIL)).toBe(true)
})

test('one step only: the next is held as well; a new order begins without', async () => {
  const made = halts([{ at: ['steps', 0] }])
  const first = made.before(SAIL, 'main.0')
  await Promise.resolve()
  await Promise.resolve()
  made.take({ stepping: true, recover: true })
  await first
  const second = made.before(MOOR!, 'main.0')
  await Promise.resolve()
  await Promise.resolve()
  expect(made.isOpen).toBe(true)
  made.take('stop')
  await expect(second).rejects.toThrow('stopped here by who steers')
  await expect(second).rejects.toBeInstanceOf(StepFault)
  made.begin([{ step: LOOP }])
  await made.before(SAIL, 'main.0')
  expect(made.isOpen).toBe(false)
})

test('a rule is asked about before it puts a failure right', async () => {
  const made = halts([])
  const asked = made.beforeRule({ kind: 'dialog', message: 'a dialog is open' }, 'Close it', SAIL)
  expect(held).toEqual([{ words: 'note sail', failure: 'a dialog is open', rule: 'Close it' }])
  made.take({ stepping: false, recover: false })
  expect(await asked).toBe(false)
})

test('a stop at a place that is not there is none', async () => {
  const made = halts([{ at: ['steps', 9] }, { at: ['else', 0] }, { at: ['steps'] }])
  await made.before(SAIL, 'main.0')
  await made.before(LOOP, 'main.0')
  expect(made.isOpen).toBe(false)
})

test('a step of a routine is held where a use of it has a stop; out of it is to what comes after', async () => {
  const routine = { key: 'moor', steps: [note('lines'), LOOP] } as unknown as Routine
  const use: Step = { verb: 'use', routine: 'moor', with: {} }
  const tell: (Held | null)[] = []
  const made = new Halts(
    (one) => tell.push(one),
    async () => true,
    [routine],
  )
  made.begin([{ step: use, stops: [{ at: ['routine', 1, 'steps', 0] }, { at: ['routine', 9] }] }])
  await made.before(routine.steps[0]!, 'main.0')
  expect(made.isOpen).toBe(false)
  const inner = made.before(SAIL, 'main.0.1.0')
  await Promise.resolve()
  await Promise.resolve()
  expect(tell).toEqual([{ words: 'note sail' }])
  made.take({ ...GO_ON, out: true })
  await inner
  await made.before(BRANCH, 'main.0.1.0')
  await made.before(MOOR!, 'main.0.1.0.1')
  expect([made.isOpen, made.isLeft]).toEqual([false, true])
  const after = made.before(note('sweep'), 'main.0')
  await Promise.resolve()
  await Promise.resolve()
  expect(tell.at(-1)).toEqual({ words: 'note sweep' })
  made.take(GO_ON)
  await after
  expect(made.isLeft).toBe(false)
})
