import type { Step } from '.'
import { applicationsOf, columnsOf, handoffsOfCase, longestPart, stepsOfCase, walkSteps } from '.'
import { testCase } from './testing/library'

const open = (address: string): Step => ({ verb: 'open', address })
const read = (as: string): Step => ({ verb: 'read', as, of: { text: as }, handoff: true })
const branch = (steps: Step[], otherwise: Step[]): Step => ({
  verb: 'if',
  condition: { visible: { text: 'x' } },
  steps,
  otherwise,
})
const block = (steps: Step[]): Step => ({ verb: 'block', title: 'B', steps })
const addresses = (steps: Iterable<Step>) =>
  [...steps].flatMap((step) => (step.verb === 'open' ? [step.address] : []))
const joint = (crew: Step[], passenger: Step[] = []) =>
  testCase('joint', {
    roles: { crew: { environment: {}, steps: crew }, passenger: { environment: {}, steps: passenger } },
    undo: [open('desk:/undo')],
  })

test('inner steps come after the one that holds them, both branches in the order of the file', () => {
  const steps = [block([open('a:/'), branch([open('b:/')], [block([open('c:/')])])]), open('d:/')]
  expect(addresses(walkSteps(steps))).toEqual(['a:/', 'b:/', 'c:/', 'd:/'])
})
test('a case has the steps of its roles and its undo steps', () => {
  expect(addresses(stepsOfCase(joint([open('gate:/')], [open('booking:/')])))).toEqual([
    'gate:/',
    'booking:/',
    'desk:/undo',
  ])
})
test('what a role hands on, opens and reads from a row is of the case', () => {
  const one = joint([block([read('reference')])], [open('booking:/${row.port}')])
  expect(handoffsOfCase(one, () => [])).toEqual(['reference'])
  expect(applicationsOf(one, new Map())).toEqual(['booking'])
  expect(columnsOf(one)).toEqual(['port'])
})
test('a joint case takes as long as its longest role', () => {
  const count = (steps: readonly Step[]) => steps.length
  expect(longestPart(joint([open('a:/')], [open('b:/'), open('c:/')]), count)).toHaveLength(2)
  expect(longestPart(testCase('one', { steps: [open('a:/')] }), count)).toHaveLength(1)
})
