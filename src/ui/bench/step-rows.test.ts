import type { Routine, TestCase } from '@/core/model'
import { parseDefinition } from '@/core/model/files'
import { lineOfRow, playedLists, undoList } from './step-rows'

function read(body: string): TestCase | Routine {
  const { definition, problems } = parseDefinition('x.case.yaml', `case: x\ntitle: X\n${body}`)
  if (definition?.kind !== 'case') throw new Error(JSON.stringify(problems))
  return definition
}

const BRANCHED = read(`steps:
  - open: gate:/
  - if: { visible: { text: Fog } }
    steps:
      - click: { on: { text: Wait } }
    else:
      - click: { on: { text: Board } }
      - click: { on: { text: Close } }
  - check: { of: { text: Boarded }, state: visible }
    off: true
undo:
  - open: gate:/reset
`)

const JOINT = read(`roles:
  crew:
    steps:
      - open: gate:/
      - click: { on: { text: Board } }
  passenger:
    steps:
      - open: booking:/
`)

test('each step has its number, its place in the file and its place in logs; "else" is a line without one', () => {
  const [list] = playedLists(BRANCHED)
  expect(list!.heading).toBe('6 steps')
  expect(list!.rows.map(({ id, number, depth, logPath }) => [id, number, depth, logPath])).toEqual([
    ['steps.0', 1, 0, 'main.0'],
    ['steps.1', 2, 0, 'main.1'],
    ['steps.1.steps.0', 3, 1, 'main.1.0'],
    ['steps.1.else', 0, 0, 'main.1.else'],
    ['steps.1.else.0', 4, 1, 'main.1.0'],
    ['steps.1.else.1', 5, 1, 'main.1.1'],
    ['steps.2', 6, 0, 'main.2'],
  ])
})

test('what can hold others says so, what is off is dim, "else" stays where it is', () => {
  const { rows } = playedLists(BRANCHED)[0]!
  const one = (id: string) => rows.find((row) => row.id === id)
  expect(one('steps.1')).toMatchObject({ holds: 'steps', group: true })
  expect(one('steps.0')).not.toHaveProperty('holds')
  expect(one('steps.2')).toMatchObject({ dim: true })
  expect(one('steps.1.else')).toMatchObject({ fixed: true, title: 'else' })
})

test('a joint case has a list for each of its roles, with paths that lead into the role', () => {
  const lists = playedLists(JOINT)
  expect(lists.map(({ label, heading, length }) => [label, heading, length])).toEqual([
    ['Steps of crew', 'crew: 2 steps', 2],
    ['Steps of passenger', 'passenger: 1 step', 1],
  ])
  expect(lists.flatMap(({ rows }) => rows.map(({ id, number }) => [id, number]))).toEqual([
    ['roles.crew.steps.0', 1],
    ['roles.crew.steps.1', 2],
    ['roles.passenger.steps.0', 1],
  ])
})

test('undo steps are a list of their own', () => {
  expect(undoList(BRANCHED)).toMatchObject({ path: ['undo'], length: 1, rows: [{ logPath: 'undo.0' }] })
  expect(undoList(JOINT).rows).toEqual([])
})

test.each([
  [BRANCHED, 'steps.1.else.1', 10],
  [BRANCHED, 'undo.0', 14],
  [JOINT, 'roles.passenger.steps.0', 10],
  [BRANCHED, 'steps.1.else', undefined],
  [BRANCHED, 'steps.9', undefined],
])('a line is found in the file', (definition, id, line) => {
  expect(lineOfRow(definition, id)).toBe(line)
})
