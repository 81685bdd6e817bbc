/** Why something in the browser did not work, as people read it: the libraries behind the drivers and the
 * engines say it in several lines, with names of their functions, places in their sources, and times to the
 * nanosecond. */
const OWN_NAMES =
  /^(?:Error: )?(?:[a-zA-Z]+\.[a-zA-Z]+: )?(?:Protocol error \([\w.]+\): )?(?:unknown error (?:Error: )?)?/
/** Where in an engine's own sources it happened. */
const PLACE_IN_ENGINE = / \S*@(?:chrome|resource):\/\/.*$/
const TIMEOUT = /^(Navigation )?[tT]imeout (?:of )?([\d.]+) ?ms exceeded\.?/

/** What the engines say when a page does not come, each in its own words. */
const ARRIVALS: readonly [RegExp, string][] = [
  [
    /ERR_CONNECTION_REFUSED|ERR_ADDRESS_UNREACHABLE|ERR_CONNECTION_TIMED_OUT/,
    'nobody answers at this address',
  ],
  [/NS_ERROR_NET_TIMEOUT|NS_ERROR_CONNECTION_REFUSED/, 'nobody answers at this address'],
  [/ERR_NAME_NOT_RESOLVED|NS_ERROR_UNKNOWN_HOST/, 'no machine is known by this name'],
  [/ERR_CONNECTION_(?:RESET|CLOSED|ABORTED)|ERR_EMPTY_RESPONSE/, 'the server broke the connection off'],
  [/NS_ERROR_NET_(?:RESET|INTERRUPT|EMPTY_RESPONSE|PARTIAL_TRANSFER)/, 'the server broke the connection off'],
  [/ERR_INVALID_HTTP_RESPONSE|ERR_RESPONSE_HEADERS/, 'what answers there does not speak HTTP as it should'],
  [/ERR_TOO_MANY_REDIRECTS|NS_ERROR_REDIRECT_LOOP/, 'it is sent on to another address without end'],
  [/ERR_CERT_|SEC_ERROR_|ERROR_BAD_CERT/, 'its certificate is not one that the browser trusts'],
  [/ERR_SSL_|NS_ERROR_MODULE_SECURITY|SSL_ERROR_/, 'no safe connection comes about: it may not speak HTTPS'],
  [/ERR_UNSAFE_PORT|deniedPortAccess/, 'browsers open no page on this port'],
  [/ERR_INTERNET_DISCONNECTED|NS_ERROR_OFFLINE/, 'the browser is offline'],
  [/invalid URL|ERR_INVALID_URL|NS_ERROR_MALFORMED_URI/, 'this is not an address'],
  [/ERR_UNKNOWN_URL_SCHEME|NS_ERROR_UNKNOWN_PROTOCOL|unsupported operation/, 'no page has such an address'],
  [/ERR_ABORTED|NS_BINDING_ABORTED/, 'the browser broke it off: it is a file, or the page went on meanwhile'],
]

/** @returns one line */
export function reasonOf(error: unknown): string {
  const { message } = error as Error
  const line = (message.split('\n')[0] ?? '').replace(OWN_NAMES, '').replace(PLACE_IN_ENGINE, '')
  const [, isNavigation, ms] = TIMEOUT.exec(line) ?? []
  if (ms === undefined) return ARRIVALS.find(([said]) => said.test(line))?.[1] ?? line
  const seconds = Number((Number(ms) / 1000).toFixed(1))
  return `${isNavigation ? 'it did not come' : 'it was not done'} within ${seconds} s`
}
