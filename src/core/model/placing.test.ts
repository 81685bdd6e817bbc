import fc from 'fast-check'
import { parse } from 'yaml'
import {
  editSource,
  isWithin,
  outermost,
  pathsAfterMove,
  stepPlace,
  type Path,
  type TreeLine,
} from './editing'

type Node = { group: string; entries?: Node[] }
const source = (nodes: Node[]): string => JSON.stringify({ entries: nodes })
const lines = (nodes: Node[], path: Path = ['entries']): TreeLine[] =>
  nodes.flatMap((node, i) => [
    { path: [...path, i], holds: 'entries' },
    ...lines(node.entries ?? [], [...path, i, 'entries']),
  ])
const at = (text: string, path: Path) =>
  path.reduce<unknown>((value, part) => (value as Record<string, unknown>)[part], parse(text)) as Node

let names = 0
const tree = fc
  .letrec<{ nodes: Node[] }>((tie) => ({
    nodes: fc.array(
      fc
        .oneof({ maxDepth: 3 }, fc.constant(undefined), tie('nodes'))
        .map((entries): Node => ({ group: '', ...(entries && { entries }) })),
      { maxLength: 4 },
    ),
  }))
  .nodes.filter((nodes) => nodes.length > 0)
const named = (nodes: Node[]): Node[] =>
  nodes.map((node) => ({ group: `n${names++}`, ...(node.entries && { entries: named(node.entries) }) }))

test('property: after a move, the paths lead to what was moved', () => {
  fc.assert(
    fc.property(
      tree,
      fc.array(fc.nat(), { minLength: 1, maxLength: 3 }),
      fc.nat(),
      (given, chosen, where) => {
        const nodes = named(given)
        const all = lines(nodes)
        const moved = outermost([...new Set(chosen.map((n) => n % all.length))].map((n) => all[n]!.path))
        const places = all
          .filter(({ path }) => !moved.some((one) => isWithin(path, one)))
          .map(({ path }) => ({ list: path.slice(0, -1), at: path.at(-1) as number }))
        if (places.length === 0) return
        const place = places[where % places.length]!
        const before = source(nodes)
        const after = editSource(before, [{ do: 'move', paths: moved, ...place }])
        expect(pathsAfterMove(moved, place).map((path) => at(after, path).group)).toEqual(
          moved.map((path) => at(before, path).group),
        )
      },
    ),
  )
})
test('property: one step in any way keeps all elements, and up is undone by down within a list', () => {
  fc.assert(
    fc.property(tree, fc.nat(), fc.constantFrom('up', 'down', 'in', 'out'), (given, n, way) => {
      const nodes = named(given)
      const all = lines(nodes)
      const { path } = all[n % all.length]!
      const place = stepPlace(way, path, all)
      if (!place) return
      const after = editSource(source(nodes), [{ do: 'move', paths: [path], ...place }])
      const groups = (text: string) => [...text.matchAll(/n\d+/g)].map(([name]) => name).sort()
      expect(groups(after)).toEqual(groups(source(nodes)))
      const [now] = pathsAfterMove([path], place)
      if (way !== 'up' || place.list.length !== path.length - 1) return
      const back = stepPlace('down', now!, lines((parse(after) as { entries: Node[] }).entries))!
      expect(parse(editSource(after, [{ do: 'move', paths: [now!], ...back }]))).toEqual(parse(source(nodes)))
    }),
  )
})
test.each<[string, Path[], Path[]]>([
  [
    'children go with what holds them',
    [
      ['entries', 1, 'entries', 0],
      ['entries', 1],
    ],
    [['entries', 1]],
  ],
  [
    'in the order of the file',
    [
      ['entries', 10],
      ['entries', 2],
    ],
    [
      ['entries', 2],
      ['entries', 10],
    ],
  ],
  ['one given twice is one', [['entries', 1]], [['entries', 1]]],
])('outermost: %s', (_, paths, expected) => expect(outermost(paths)).toEqual(expected))
test('at the ends of the outermost list there is no way further', () => {
  const two = lines([{ group: 'a' }, { group: 'b' }])
  expect(stepPlace('up', ['entries', 0], two)).toBeUndefined()
  expect(stepPlace('down', ['entries', 1], two)).toBeUndefined()
  expect(stepPlace('out', ['entries', 1], two)).toBeUndefined()
})
