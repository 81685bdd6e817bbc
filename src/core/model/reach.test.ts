import type { Routine, Step, TestCase } from './types'
import { reachOf } from './reach'

const uses = (routine: string): Step => ({ verb: 'use', routine, with: {} })
const type = (value: string): Step => ({ verb: 'type', in: { label: 'Password' }, value })
const query = (database: string): Step => ({ verb: 'query', database, sql: 'select 1', values: [], read: {} })
const open = (address: string): Step => ({ verb: 'open', address })
const call = (url: string): Step => ({ verb: 'call', method: 'GET', url, read: {}, handoff: false })
const routine = (key: string, steps: Step[], undo: Step[] = []): Routine => ({
  kind: 'routine',
  key,
  title: key,
  parameters: {},
  steps,
  undo,
})
const all: Record<string, Routine> = {
  'desk-signed-in': routine('desk-signed-in', [uses('sign-in')]),
  'sign-in': routine('sign-in', [type('${secret.deskPassword}')], [query('desk')]),
  pay: routine('pay', [type('${secret.card}')]),
  loop: routine('loop', [uses('loop')]),
}
const testCase = (more: Partial<TestCase>): TestCase => ({
  kind: 'case',
  key: 'c',
  title: 'C',
  tags: [],
  priority: 'normal',
  requires: [],
  parameters: {},
  uses: [],
  needs: [],
  steps: [],
  undo: [],
  ...more,
})
const noneOf = { routines: [], secrets: [], databases: [] }

test.each<[string, TestCase, Step[], { routines: string[]; secrets: string[]; databases: string[] }]>([
  ['nothing is used', testCase({ steps: [{ verb: 'note', text: 'n' }] }), [], noneOf],
  [
    'its entry state, and what that uses, with its undo steps',
    testCase({ entry: 'desk-signed-in' }),
    [],
    { routines: ['desk-signed-in', 'sign-in'], secrets: ['deskPassword'], databases: ['desk'] },
  ],
  [
    'undo steps',
    testCase({ undo: [uses('pay')] }),
    [],
    { routines: ['pay'], secrets: ['card'], databases: [] },
  ],
  [
    'roles of a joint case',
    testCase({ roles: { clerk: { environment: {}, steps: [uses('pay')] } } }),
    [],
    { routines: ['pay'], secrets: ['card'], databases: [] },
  ],
  [
    'both ways of a branch',
    testCase({
      steps: [{ verb: 'if', condition: { visible: { text: 'A' } }, steps: [], otherwise: [uses('pay')] }],
    }),
    [],
    { routines: ['pay'], secrets: ['card'], databases: [] },
  ],
  [
    'recovery rules',
    testCase({}),
    [uses('sign-in')],
    { routines: ['sign-in'], secrets: ['deskPassword'], databases: ['desk'] },
  ],
  [
    'a routine that uses itself',
    testCase({ steps: [uses('loop')] }),
    [],
    { routines: ['loop'], secrets: [], databases: [] },
  ],
  ['a routine that is not there', testCase({ steps: [uses('toString')] }), [], noneOf],
  [
    'its own parameters',
    testCase({ parameters: { pin: '${secret.pin}' } }),
    [],
    { routines: [], secrets: ['pin'], databases: [] },
  ],
])('%s', (_, given, rule, expected) => {
  const { routines, secrets, databases } = reachOf(given, [{ do: rule }], all)
  expect({ routines: routines.map(({ key }) => key), secrets, databases }).toEqual(expected)
})

test.each<[string, Step[], string[] | undefined]>([
  ['none', [], []],
  [
    'those it opens and calls, also in routines',
    [open('booking:/'), call('gate:/api'), uses('away')],
    ['booking', 'gate', 'ticket-office'],
  ],
  ['any, where an address is put together', [open('booking:/'), open('${where}:/')], undefined],
  ['the path may be put together', [open('booking:/${where}')], ['booking']],
])('applications: %s', (_, steps, expected) => {
  const away = routine('away', [{ verb: 'block', title: 'B', steps: [open('ticket-office:/')] }])
  expect(reachOf(testCase({ steps }), [], { ...all, away }).applications).toEqual(expected)
})
