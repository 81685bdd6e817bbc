/** @jest-environment ./jest/page.cjs */
import { elementsWith, meantBy, ownText, parseSource, pathTo, tagOf } from './source-tree'

const PAGE = `<!doctype html><title>Fares</title><body onload="window.ran = true">
<script>window.ran = true</script>
<main><label for="q">Port</label><input id="q" placeholder="Where to"><img src="x" onerror="window.ran = true">
<p>The <b data-testid="fare">45</b> of today</p><button>Find sailings</button></main>`
const root = () => parseSource(PAGE)

test('nothing of it runs', () => {
  expect(root().querySelector('script')).not.toBeNull()
  expect((window as { ran?: boolean }).ran).toBeUndefined()
})

test.each([
  ['fare', 'b'],
  ['Where to', 'input'],
  ['find sailings', 'button'],
  ['sailings', 'button'],
  ['of today', 'p'],
  ['Fares', undefined],
  ['not there', undefined],
  ['', undefined],
])('“%s” means %s', (words, name) => expect(meantBy(root(), words)?.localName).toBe(name))

test('a tag has its attributes, a long one is cut; text is its own', () => {
  const page = root()
  expect(tagOf(page.querySelector('input')!)).toBe('<input id="q" placeholder="Where to">')
  expect(ownText(page.querySelector('p')!)).toBe('The of today')
  page.querySelector('b')!.setAttribute('class', 'x'.repeat(500))
  expect(tagOf(page.querySelector('b')!).length).toBeLessThan(200)
})

test('a text is found in tags and texts; the way to it is all it is in', () => {
  const page = root()
  expect(elementsWith(page, 'port').map(({ localName }) => localName)).toEqual(['label'])
  expect(elementsWith(page, ' ')).toEqual([])
  expect([...pathTo(elementsWith(page, 'fare"')[0])].map(({ localName }) => localName)).toEqual([
    'b',
    'p',
    'main',
    'body',
    'html',
  ])
  expect(pathTo(undefined).size).toBe(0)
})
