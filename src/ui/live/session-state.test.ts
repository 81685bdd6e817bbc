import { AT_FIRST, isDriving, leftWords, reduceSession, type SessionEvent } from './session-state'

const after = (...events: SessionEvent[]) => events.reduce(reduceSession, AT_FIRST)
const WREN = { id: 1, name: 'Wren Adeyemi', mayDrive: true }
const MIRELA = { id: 2, name: 'Mirela Voss', mayDrive: true }
const people = (you: number, driver: number | null, ...present: (typeof WREN)[]): SessionEvent => ({
  say: 'people',
  you,
  driver,
  people: present,
})

test('each step has the mark of when it was carried out last', () => {
  const failure = { kind: 'check' as const, message: 'It is not' }
  const state = after(
    { say: 'step', id: 'steps.0', mark: 'running' },
    { say: 'step', id: 'steps.0', mark: 'failed', ms: 12, failure },
    { say: 'step', id: 'steps.1', mark: 'running' },
    { say: 'step', id: 'steps.0', mark: 'running' },
  )
  expect(state.marks).toEqual({ 'steps.0': { mark: 'running' }, 'steps.1': { mark: 'running' } })
})

test('who left has no cursor, and asks for nothing', () => {
  const state = after(
    people(1, 1, WREN, MIRELA),
    { say: 'cursor', who: 2, x: 5, y: 6 },
    { say: 'asked', who: 2 },
    people(1, 1, WREN),
  )
  expect([state.cursors, state.asking, isDriving(state)]).toEqual([{}, undefined, true])
})

test('whose wish was granted does not ask any more', () => {
  const state = after(people(1, 1, WREN, MIRELA), { say: 'asked', who: 2 }, people(1, 2, WREN, MIRELA))
  expect([state.asking, isDriving(state)]).toEqual([undefined, false])
})

test('a line that broke knows of no agent, and keeps what was recorded', () => {
  const recorded = [{ step: { verb: 'note' as const, text: 'x' }, atMs: 1 }]
  const state = after(
    { say: 'connected', is: true },
    { say: 'agent', here: true },
    { say: 'recorded', steps: recorded },
    { say: 'connected', is: false },
  )
  expect(state).toMatchObject({ connected: false, agentHere: false, recorded })
})

test('what was read goes', () => {
  const state = after({ say: 'problem', message: 'late' }, { say: 'seen', what: 'problem' })
  expect(state.problem).toBeUndefined()
})

test.each([
  [492_000, '8:12'],
  [1, '0:01'],
  [-5, '0:00'],
])('%d ms are %s', (ms, words) => expect(leftWords(ms)).toBe(words))

test('a session that is over has no browser, and does not come back', () => {
  const state = after({ say: 'agent', here: true }, { say: 'over', because: 'it ended' })
  expect(state).toMatchObject({ over: true, agentHere: false })
})
