import { writeSignedIn, type Step } from '@/core/model'
import { attempt, click, seen, SIGNED_IN, withApi } from './testing/scripted'

withApi()

const keep: Step = { verb: 'signed-in', does: 'keep', as: 'clerk' }
const take: Step = { verb: 'signed-in', does: 'take', as: 'clerk' }
const APP = { app: 'http://app/desk' }

test('who is signed in is handed on, and nothing of it is in the log', async () => {
  const { result, events } = await attempt([keep], {})
  expect(result).toMatchObject({ outcome: 'passed', handoffs: { clerk: writeSignedIn(SIGNED_IN) } })
  expect(events).toContainEqual(
    expect.objectContaining({
      type: 'step-ended',
      outcome: 'passed',
      note: '1 cookie and 1 stored value of http://app',
    }),
  )
  expect(JSON.stringify(events)).not.toContain('a-pass-of-twenty-chars')
})

test('another case goes on as who is signed in; no step can say how', async () => {
  const work = { applications: APP, handoffs: { clerk: writeSignedIn(SIGNED_IN) } }
  expect(await attempt([take], {}, { work })).toMatchObject({
    result: { outcome: 'passed' },
    done: ['signed in to http://app', 'close'],
  })
  expect(
    (await attempt([{ verb: 'type', in: { text: 'x' }, value: '${clerk}' }], { x: seen('') }, { work }))
      .result,
  ).toMatchObject({ outcome: 'errored', failure: { kind: 'data' } })
  const shown = await attempt([click('a-pass-of-twenty-chars')], {}, { work })
  expect(JSON.stringify([shown.events, shown.result])).not.toContain('a-pass-of-twenty-chars')
})

test.each([
  ['it was not handed on', {}, APP, '“clerk” was not handed on'],
  ['it is a value', { clerk: 'Isla' }, APP, '“clerk” is a value, not somebody who is signed in'],
  [
    'it is broken',
    { clerk: `${writeSignedIn(SIGNED_IN)}}` },
    APP,
    '“clerk” is a value, not somebody who is signed in',
  ],
  [
    'it is of no application of this run',
    { clerk: writeSignedIn(SIGNED_IN) },
    { app: 'http://other/' },
    '“clerk” is signed in to http://app, which is none of the applications',
  ],
])('a case does not go on as somebody when %s', async (_, handoffs, applications, message) => {
  const { result, done } = await attempt([take], {}, { work: { handoffs, applications } })
  expect(result).toMatchObject({ outcome: 'errored', failure: { kind: 'data', message } })
  expect(done).toEqual(['close'])
})
