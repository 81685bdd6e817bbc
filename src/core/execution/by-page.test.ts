import { byPage, isPageLine } from './by-page'
import type { OutlineLine } from './outline'
import { outlineLine } from './testing/lines'

let no = 0
const line = (path: string, verb: string, more: Partial<OutlineLine> = {}) =>
  outlineLine(path, { verb, object: 'x', detail: '' }, { no: ++no, startMs: no * 10, ms: 5, ...more })
const page = (url: string, title = '') => ({ page: { url: `http://127.0.0.1:1${url}`, title } })
const told = (lines: OutlineLine[]) =>
  byPage(lines).map((one) => (isPageLine(one) ? `[${one.words.verb} ${one.words.detail}]` : one.path))

test('what leads to a page by opening it belongs there; a click belongs where it was done', () => {
  expect(
    told([
      line('main.0', 'open', page('/', 'Sailings')),
      line('main.1', 'type'),
      line('main.2', 'click', page('/fares', 'Fares')),
      line('main.3', 'check'),
      line('main.4', 'click', page('/')),
      line('main.5', 'check'),
    ]),
  ).toEqual([
    '[Sailings /]',
    'main.0',
    'main.1',
    'main.2',
    '[Fares /fares]',
    'main.3',
    'main.4',
    '[page /]',
    'main.5',
  ])
})

test('another fragment is the same page; what was done before any page says so', () => {
  expect(
    told([
      line('main.0', 'call'),
      line('main.1', 'open', page('/a#top')),
      line('main.2', 'click', page('/a#end')),
      line('main.3', 'check'),
    ]),
  ).toEqual(['[before the first page ]', 'main.0', '[page /a]', 'main.1', 'main.2', 'main.3'])
})

test('steps that hold others, and those not reached, are left out; a page is as bad as its worst step', () => {
  const lines = [
    line('main.0', 'open', page('/a')),
    line('main.1', 'block'),
    line('main.1.0', 'click'),
    line('main.1.1', 'check', { mark: 'failed', onTheWay: true, failing: true }),
    outlineLine('main.2', { verb: 'click', object: 'x', detail: '' }, { mark: 'skipped' }),
  ]
  expect(told(lines)).toEqual(['[page /a]', 'main.0', 'main.1.0', 'main.1.1'])
  expect(byPage(lines)[0]).toMatchObject({ mark: 'failed', onTheWay: true, failing: false })
  expect(byPage([])).toEqual([])
  expect(told([line('main.0', 'click')])[0]).toBe('[its agent did not say which pages ]')
})
