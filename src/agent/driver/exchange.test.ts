import { exchangeText, isReadable } from './exchange'

const side = (more: object = {}) => ({ line: 'GET /fares', headers: {}, body: '', ...more })

test('headers and bodies of both sides; what lets somebody in is masked', () => {
  const text = exchangeText(
    side({ headers: { accept: 'text/html', Cookie: 'session=low-tide', authorization: 'Bearer low-tide' } }),
    side({ line: '500 Broken', headers: { 'set-cookie': 'session=low-tide' }, body: '{"why":"tide"}' }),
  )
  expect(text).toContain('GET /fares\naccept: text/html\nCookie: ••••')
  expect(text).toContain('500 Broken')
  expect(text).toContain('{"why":"tide"}')
  expect(text).not.toContain('low-tide')
})

test('a body without end is cut, and says so', () => {
  const text = exchangeText(side(), side({ body: 'x'.repeat(200_000) }))
  expect(text.length).toBeLessThan(65_000)
  expect(text).toContain('(and 136000 characters more)')
})

test.each([
  ['text/html; charset=utf-8', true],
  ['application/problem+json', true],
  ['application/x-www-form-urlencoded', true],
  ['image/png', false],
  ['application/octet-stream', false],
  [undefined, true],
])('%s is text: %s', (type, is) => expect(isReadable(type)).toBe(is))
