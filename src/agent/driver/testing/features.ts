/** What drivers can do, by the features that the conformance suite tests, and what each cannot, with the
 * reason. docs/engines.md is made of it. */

export const FEATURES = {
  form: 'Open pages, write into fields, choose, tick, send',
  keys: 'Press keys',
  clipboard: 'Copy and paste by keys',
  targets: 'Find by test id, role and name, label, placeholder, text, CSS',
  match: 'Compare texts in part or by a pattern',
  several: 'Tell elements apart by what they are within, and by number',
  layout: 'Tell elements apart by what they are beside or under; list those that match',
  shadow: 'Find and act within open shadow roots',
  editors: 'Write into rich editors (contenteditable)',
  frames: 'Work inside frames; their source is kept',
  clicks: 'Double click, other buttons, keys held, long press',
  lists: 'Choose several of a list',
  history: 'Go back and forward, load again',
  windows: 'Go on in another window or tab, close it',
  scrolling: 'Scroll the page and parts of it',
  pointer: 'Hover',
  dragging: 'Drag, with the pointer and as HTML has it',
  files: 'Give several files to a field',
  dropping: 'Drop files on what takes them',
  downloads: 'See what was downloaded',
  identity: 'Go on as who was signed in by another browser: cookies, and what pages have stored',
  dialogs: 'Answer dialogs of the browser, check what they said',
  overlays: 'Tell that a dialog or something else covers an element',
  status: 'Tell the status of a page and of requests',
  exchanges: 'Keep headers and bodies of requests that failed',
  network: 'Fail, answer or delay requests, be offline',
  agent: 'Send the user agent that the environment names',
  zone: 'Be in the time zone of the environment',
  colours: 'Ask for light or dark colours',
  location: 'Tell pages a location',
  camera: 'Give pages a camera that is made up',
  libraries:
    'Published component libraries: date picker, rich editor, sortable list, data grid, web components',
  words: 'Find words as they are seen on the screen, also where they are drawn',
  exact: 'Take a screen as it is, or a part of it, and compare it with one that was accepted',
  picture: 'Find a picture on the screen, at another size or in other colours',
  secrets: 'Hide secrets on screens, also where pages give them back',
  screens: 'Screenshots, and the place of what was found',
  video: 'Video',
} as const
export type Feature = keyof typeof FEATURES

export type DriverName = 'Chromium' | 'Firefox' | 'WebKitGTK' | 'WebDriver endpoint' | 'simulated'

const NO_SCRIPTS = 'pages are read without running their scripts'
const NO_LAYOUT = 'pages are read without a layout'
const NO_OPTION = 'WebDriver has no way to set it, and its browser no option'
const NO_ANSWERS = 'WebDriver gives no answers of servers'
const NO_WAY = 'WebDriver has no way to set it; capabilities of the endpoint may'

/** A feature that is not here is there: its tests run. */
export const LACKS: Record<DriverName, Partial<Record<Feature, string>>> = {
  Chromium: { camera: 'chromium-headless-shell has no media; a Chromium named by OAK_CHROMIUM has' },
  Firefox: {},
  WebKitGTK: {
    status: 'WebDriver gives no answers of servers, and WebKit does not tell pages their status',
    exchanges: NO_ANSWERS,
    network: NO_OPTION,
    agent: NO_OPTION,
    location: NO_OPTION,
    camera: NO_OPTION,
  },
  'WebDriver endpoint': {
    exchanges: NO_ANSWERS,
    network: NO_WAY,
    zone: NO_WAY,
    colours: NO_WAY,
    location: NO_WAY,
    camera: NO_WAY,
  },
  simulated: {
    picture: 'there is no screen to look at',
    exact: 'its screens are drawn for it and compressed; they are compared within what that loses',
    words: 'there is no screen to read; they are looked for in the text of the page',
    layout: NO_LAYOUT,
    shadow: NO_SCRIPTS,
    editors: NO_SCRIPTS,
    clicks: NO_SCRIPTS,
    clipboard: NO_SCRIPTS,
    dragging: NO_SCRIPTS,
    windows: NO_SCRIPTS,
    scrolling: NO_LAYOUT,
    files: 'only the name of a file is sent',
    dropping: NO_SCRIPTS,
    dialogs: NO_SCRIPTS,
    video: 'there is no browser to film',
    libraries: NO_SCRIPTS,
    network: 'its pages are asked for by the agent itself, for all to see',
    zone: NO_SCRIPTS,
    colours: NO_SCRIPTS,
    location: NO_SCRIPTS,
    camera: NO_SCRIPTS,
  },
}

export const DRIVERS = Object.keys(LACKS) as DriverName[]
