import fc from 'fast-check'
import { parse } from 'yaml'
import { editSource, EditFault, keepLayout, type Edit } from './editing'

const CASE = `# Kept by Tomas.
case: book     # the key
title:  Book a crossing

# What it is for.
tags: [ smoke,booking ]
steps:
  # First the page.
  - open: booking:/     # the public site
  - click: {on: {text: Go}}

  # Then pay.
  - block: Pay
    steps:
      - use: pay        # by card
      - check: { of: { testId: total }, text: { equals: "3.50" } }
x-owner: Tomas
`
const edited = (edits: Edit[], source = CASE) => editSource(source, edits)

test('a field is set, and nothing else changes', () => {
  expect(edited([{ do: 'set', path: ['title'], value: 'Book it' }])).toBe(
    CASE.replace('title:  Book a crossing', 'title: Book it'),
  )
  expect(
    edited([{ do: 'set', path: ['steps', 2, 'steps', 1, 'check', 'text', 'equals'], value: '4.00' }]),
  ).toBe(CASE.replace('"3.50"', '"4.00"'))
})
test('lists whose dashes are not indented stay so', () => {
  const flat = CASE.replace(/^ {2}/gm, '').replace(
    /^ {2}steps:\n {4}- use(.*)\n {4}- check/m,
    '  steps:\n  - use$1\n  - check',
  )
  expect(edited([{ do: 'set', path: ['steps', 0, 'open'], value: 'gate:/' }], flat)).toBe(
    flat.replace('booking:/     #', 'gate:/ #'),
  )
})
test('a comment beside what changes stays', () =>
  expect(edited([{ do: 'set', path: ['case'], value: 'other' }])).toContain('case: other # the key'))
test('a step that goes takes its comment, the others keep theirs', () => {
  const text = edited([{ do: 'remove', paths: [['steps', 1]] }])
  expect(text).toContain('# First the page.')
  expect(text).toContain('# Then pay.')
  expect(text).not.toContain('Go')
})
test('a step moves with its comment', () => {
  const text = edited([{ do: 'move', paths: [['steps', 2, 'steps', 0]], list: ['steps'], at: 0 }])
  expect(text).toContain('- use: pay # by card')
  expect(steps(text).map((step) => Object.keys(step)[0])).toEqual(['use', 'open', 'click', 'block'])
})
test('several move as one, in their order, whatever lies between', () => {
  const text = edited([
    {
      do: 'move',
      paths: [
        ['steps', 0],
        ['steps', 2],
      ],
      list: ['steps'],
      at: 2,
    },
  ])
  expect(steps(text).map((step) => Object.keys(step)[0])).toEqual(['click', 'open', 'block'])
})
test('new steps are written as people write them', () => {
  const text = edited([
    {
      do: 'insert',
      list: ['steps', 2, 'steps'],
      at: 2,
      values: [
        { click: { on: { role: 'button', name: 'Pay now' } } },
        { block: 'More', steps: [{ press: { key: 'Enter' } }] },
      ],
    },
  ])
  expect(text).toContain('- click: { on: { role: button, name: Pay now } }')
  expect(text).toContain('      - block: More\n        steps:\n          - press: { key: Enter }')
})
test('a list that is not there yet is made', () =>
  expect(
    parse(edited([{ do: 'insert', list: ['undo'], at: 0, values: [{ press: { key: 'Tab' } }] }])),
  ).toMatchObject({ undo: [{ press: { key: 'Tab' } }] }))
test('wrap and unwrap are opposites', () => {
  const wrapped = edited([
    {
      do: 'wrap',
      paths: [
        ['steps', 0],
        ['steps', 1],
      ],
      value: { block: 'Search' },
      into: 'steps',
    },
  ])
  expect(steps(wrapped).map((step) => Object.keys(step)[0])).toEqual(['block', 'block'])
  expect(parse(edited([{ do: 'unwrap', path: ['steps', 0], field: 'steps' }], wrapped))).toEqual(parse(CASE))
})
test('a copy is a second one', () =>
  expect(
    steps(edited([{ do: 'copy', paths: [['steps', 0]], list: ['steps'], at: 1 }])).map((step) => step.open),
  ).toEqual(['booking:/', 'booking:/', undefined, undefined]))
test('a text in quotes stays text', () =>
  expect(
    edited([{ do: 'set', path: ['steps', 2, 'steps', 1, 'check', 'text', 'equals'], value: '10' }]),
  ).toContain('equals: "10"'))
test('a field is taken away', () =>
  expect(parse(edited([{ do: 'set', path: ['tags'], value: undefined }]))).not.toHaveProperty('tags'))

test.each<[string, Edit[]]>([
  ['a path that leads nowhere', [{ do: 'remove', paths: [['steps', 9]] }]],
  ['a step into itself', [{ do: 'move', paths: [['steps', 2]], list: ['steps', 2, 'steps'], at: 0 }]],
  ['a list that is none', [{ do: 'insert', list: ['title'], at: 0, values: [{}] }]],
])('refused: %s', (_, edits) => expect(() => edited(edits)).toThrow(EditFault))
test('unsound text is refused, not mended by guessing', () =>
  expect(() => editSource('steps: [', [{ do: 'set', path: ['title'], value: 'x' }])).toThrow(
    'the text is not sound',
  ))

const steps = (text: string) => (parse(text) as { steps: Record<string, unknown>[] }).steps

const layouts = fc.array(
  fc.constantFrom('# a note', '', '- open: a:/x', '- open: b:/y   # why', '- press: {key: Tab}'),
  { minLength: 1, maxLength: 12 },
)
test('property: whatever the layout, an edit does what it says and drops no comment', () => {
  fc.assert(
    fc.property(layouts, fc.nat(), fc.nat(), (lines, from, to) => {
      const source = `title: T\nsteps:\n${lines.map((line) => (line ? `  ${line}` : '')).join('\n')}\n  - use: last\n`
      const count = steps(source).length
      const [a, b] = [from % count, to % (count + 1)]
      const text = editSource(source, [{ do: 'move', paths: [['steps', a]], list: ['steps'], at: b }])
      const plain = [...steps(source)]
      const [moved] = plain.splice(a, 1)
      plain.splice(b > a ? b - 1 : b, 0, moved!)
      expect(steps(text)).toEqual(plain)
      expect(text.match(/# \w+/g)?.length).toBe(source.match(/# \w+/g)?.length)
    }),
  )
})
test('property: keeping the layout never changes what was meant', () => {
  const text = fc
    .array(fc.constantFrom('a: 1', 'b:   2', '# c', '', 'd: [ 1,2 ]', 'e: {x: 1}'), { maxLength: 6 })
    .map((lines) => [...new Set(lines)].join('\n'))
  fc.assert(
    fc.property(text, text, text, (source, before, after) => {
      expect(parse(keepLayout(source, before, after))).toEqual(parse(after))
    }),
  )
})
