import { reasonOf } from './reason'

test.each([
  [
    'locator.click: Timeout 4084.111058999959ms exceeded.\nCall log:\n  - waiting',
    'it was not done within 4.1 s',
  ],
  ['page.goto: Timeout 15000ms exceeded.', 'it was not done within 15 s'],
  ['Navigation timeout of 15000 ms exceeded', 'it did not come within 15 s'],
  ['page.goto: net::ERR_CONNECTION_REFUSED at http://127.0.0.1:1/', 'nobody answers at this address'],
  ['page.goto: net::ERR_NAME_NOT_RESOLVED at http://none.invalid/', 'no machine is known by this name'],
  ['page.goto: net::ERR_EMPTY_RESPONSE at http://127.0.0.1:1/', 'the server broke the connection off'],
  [
    'Protocol error (browsingContext.navigate): unknown error Error: NS_ERROR_REDIRECT_LOOP ' +
      '#onNavigationCommitted@chrome://remote/content/shared/Navigate.sys.mjs:387:28',
    'it is sent on to another address without end',
  ],
  [
    'Protocol error (browsingContext.navigate): unknown error Error: ' +
      'NS_ERROR_GENERATE_FAILURE(NS_ERROR_MODULE_SECURITY, SSL_ERROR_RX_RECORD_TOO_LONG) ' +
      '#onNavigationCommitted@chrome://remote/x.sys.mjs:387:28',
    'no safe connection comes about: it may not speak HTTPS',
  ],
  [
    'Protocol error (browsingContext.navigate): invalid argument Expected "url" to be a valid URL ' +
      '(Component returned failure code: 0x804b000a (NS_ERROR_MALFORMED_URI) [nsIIOService.newURI]) ' +
      'RemoteError@chrome://remote/content/shared/RemoteError.sys.mjs:8:8',
    'this is not an address',
  ],
  [
    'Protocol error (script.callFunction): unknown error Error: it is gone #run@resource://x.sys.mjs:1:2',
    'it is gone',
  ],
  ['', ''],
  ['Error: it went away', 'it went away'],
])('%j is said as %j', (message, said) => expect(reasonOf(new Error(message))).toBe(said))
