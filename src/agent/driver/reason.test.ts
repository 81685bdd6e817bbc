import { reasonOf } from './reason'

test.each([
  [
    'locator.click: Timeout 4084.111058999959ms exceeded.\nCall log:\n  - waiting',
    'it was not done within 4.1 s',
  ],
  ['page.goto: Timeout 15000ms exceeded.', 'it was not done within 15 s'],
  ['Navigation timeout of 15000 ms exceeded', 'it did not come within 15 s'],
  [
    'page.goto: net::ERR_CONNECTION_REFUSED at http://127.0.0.1:1/',
    'net::ERR_CONNECTION_REFUSED at http://127.0.0.1:1/',
  ],
  ['', ''],
  ['Error: it went away', 'it went away'],
])('%j is said as %j', (message, said) => expect(reasonOf(new Error(message))).toBe(said))
