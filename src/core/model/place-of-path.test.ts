import { placeOfPath, type Step } from '.'

const click: Step = { verb: 'click', on: { text: 'Pay' } }
const STEPS: Step[] = [
  click,
  { verb: 'block', title: 'Pay', steps: [click, click] } as unknown as Step,
  { verb: 'repeat', times: 2, steps: [click] } as unknown as Step,
]

test.each<[string, string | undefined]>([
  ['main.0', '0'],
  ['main.1', '1'],
  ['main.1.1', '1.1'],
  ['main.2.1.0', '2'],
  ['main.0~1', '0'],
  ['main.0.3.2', '0'],
  ['main.9', undefined],
  ['main', undefined],
  ['entry.0', undefined],
  ['undo.0', undefined],
  ['', undefined],
])('%s has the place %s', (path, place) => expect(placeOfPath(path, STEPS)).toBe(place))
