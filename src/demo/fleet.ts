/** The demo's environments and agents. Only the environments of this machine are real, in three engines; the
 * rest say that they are simulated. */
import type { Environment } from '@/core/model'

const UA = {
  chromiumWindows:
    'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) ' +
    'Chrome/156.0.0.0 Safari/537.36',
  chromiumMac:
    'Mozilla/5.0 (Macintosh; Intel Mac OS X 15_0) AppleWebKit/537.36 (KHTML, like Gecko) ' +
    'Chrome/156.0.0.0 Safari/537.36',
  firefoxWindows: 'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:153.0) Gecko/20100101 Firefox/153.0',
  webkitMac:
    'Mozilla/5.0 (Macintosh; Intel Mac OS X 15_0) AppleWebKit/605.1.15 (KHTML, like Gecko) ' +
    'Version/26.0 Safari/605.1.15',
  android:
    'Mozilla/5.0 (Linux; Android 16; handset) AppleWebKit/537.36 (KHTML, like Gecko) ' +
    'Chrome/156.0.0.0 Mobile Safari/537.36',
  ios:
    'Mozilla/5.0 (handset; CPU OS 26_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) ' +
    'Version/26.0 Mobile/15E148 Safari/604.1',
}

const wide = { width: 1280, height: 800, locale: 'en-GB' }
const narrow = { width: 390, height: 780, locale: 'en-GB' }

export const ENVIRONMENTS: Environment[] = [
  {
    key: 'chromium-debian',
    title: 'Chromium, Debian',
    browser: 'Chromium',
    os: 'Debian 12',
    ...wide,
    simulated: false,
  },
  {
    key: 'chromium-narrow',
    title: 'Chromium, narrow',
    browser: 'Chromium',
    os: 'Debian 12',
    ...narrow,
    simulated: false,
  },
  {
    key: 'firefox-debian',
    title: 'Firefox, Debian',
    browser: 'Firefox',
    os: 'Debian 12',
    ...wide,
    simulated: false,
  },
  {
    key: 'webkit-debian',
    title: 'WebKit, Debian',
    browser: 'WebKit',
    os: 'Debian 12',
    ...wide,
    simulated: false,
  },
  {
    key: 'chromium-windows',
    title: 'Chromium, Windows',
    browser: 'Chromium',
    os: 'Windows 11',
    ...wide,
    simulated: true,
    userAgent: UA.chromiumWindows,
  },
  {
    key: 'firefox-windows',
    title: 'Firefox, Windows',
    browser: 'Firefox',
    os: 'Windows 11',
    ...wide,
    simulated: true,
    userAgent: UA.firefoxWindows,
  },
  {
    key: 'chromium-macos',
    title: 'Chromium, macOS',
    browser: 'Chromium',
    os: 'macOS 15',
    ...wide,
    simulated: true,
    userAgent: UA.chromiumMac,
  },
  {
    key: 'webkit-macos',
    title: 'WebKit, macOS',
    browser: 'WebKit',
    os: 'macOS 15',
    ...wide,
    simulated: true,
    userAgent: UA.webkitMac,
  },
  {
    key: 'android-handset',
    title: 'Android 16, handset',
    browser: 'Chromium',
    os: 'Android 16',
    ...narrow,
    simulated: true,
    userAgent: UA.android,
  },
  {
    key: 'ios-handset',
    title: 'iOS 26, handset',
    browser: 'WebKit',
    os: 'iOS 26',
    ...narrow,
    simulated: true,
    userAgent: UA.ios,
  },
  {
    key: 'chromium-windows-de',
    title: 'Chromium, de-DE',
    browser: 'Chromium',
    os: 'Windows 11',
    ...wide,
    locale: 'de-DE',
    simulated: true,
    userAgent: UA.chromiumWindows,
  },
]

export type FleetAgent = {
  name: string
  pool: string
  seats: number
  environments: string[]
  simulated: boolean
}
const many = (
  prefix: string,
  count: number,
  pool: string,
  seats: number,
  environments: string[],
): FleetAgent[] =>
  Array.from({ length: count }, (_, i) => ({
    name: `${prefix}-${String(i + 1).padStart(2, '0')}`,
    pool,
    seats,
    environments,
    simulated: true,
  }))

/** Fourteen simulated agents. */
export const SIMULATED_FLEET: FleetAgent[] = [
  ...many('skerrow', 4, 'Windows', 2, ['chromium-windows', 'firefox-windows', 'chromium-windows-de']),
  ...many('tolva', 3, 'macOS', 2, ['chromium-macos', 'webkit-macos']),
  ...many('quill', 4, 'Handsets', 1, ['android-handset']),
  ...many('aske', 3, 'Handsets', 1, ['ios-handset']),
]

const REAL_ENVIRONMENTS = ['chromium-debian', 'chromium-narrow']
/** Two real agents with Chromium on this machine, a seat each: measured on two cores, four seats took longer
 * for the same work, and twice as long to the first result. A third has the other engines, for who asks for
 * them. */
export const REAL_FLEET: FleetAgent[] = [
  ...['maren-01', 'maren-02'].map((name) => ({
    name,
    pool: 'This machine',
    seats: 1,
    environments: REAL_ENVIRONMENTS,
    simulated: false,
  })),
  {
    name: 'maren-03',
    pool: 'This machine',
    seats: 1,
    environments: ['firefox-debian', 'webkit-debian'],
    simulated: false,
  },
]

export const PEOPLE = [
  { name: 'Wren Adeyemi', username: 'wren', role: 'coordinator', job: 'coordinator' },
  { name: 'Tomas Lindqvist', username: 'tomas', role: 'admin', job: 'automation engineer' },
  { name: 'Priya Castellan', username: 'priya', role: 'tester', job: 'developer, booking' },
  { name: 'Joss Okafor', username: 'joss', role: 'tester', job: 'developer, gate' },
  { name: 'Mirela Voss', username: 'mirela', role: 'tester', job: 'manual tester' },
  { name: 'Edda Ruiz', username: 'edda', role: 'viewer', job: 'manager, looks only' },
] as const
export const DEMO_PASSWORD = 'fennel-sound'
