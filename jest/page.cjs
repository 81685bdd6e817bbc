/** The environment of tests of a page: that of the others, and one window of jsdom for all files of the
 * process, which is empty at the start of each. */
const { JSDOM, VirtualConsole } = require('jsdom')
const { ModernFakeTimers } = require('@jest/fake-timers')
const ProcessEnvironment = require('./environment.cjs')

/** What a window has of its own where Node.js has the same, too. */
const OF_THE_WINDOW = new Set([
  'AbortController',
  'AbortSignal',
  'Blob',
  'CloseEvent',
  'CustomEvent',
  'DOMException',
  'ErrorEvent',
  'Event',
  'EventTarget',
  'File',
  'FormData',
  'MessageEvent',
  'Storage',
  'localStorage',
  'navigator',
  'sessionStorage',
])
/** Names of the window itself. */
const ITSELF = ['window', 'self', 'parent', 'top']

/** So many turns of the event loop may still draw what a file left behind. */
const LAST_TURNS = 3

let page
let timers

class PageEnvironment extends ProcessEnvironment {
  constructor({ projectConfig }, context) {
    super({ projectConfig }, context)
    page ??= newPage()
    const before = show(page)
    ProcessEnvironment.leavePage = () => hide(before)
    timers ??= new ModernFakeTimers({ config: projectConfig, global: globalThis })
    this.fakeTimersModern = timers
  }

  async teardown() {
    await super.teardown()
    for (let turn = 0; turn < LAST_TURNS; turn += 1) await new Promise(setImmediate)
    empty(page.window)
  }
}

function newPage() {
  const dom = new JSDOM('<!doctype html>', {
    pretendToBeVisual: true,
    runScripts: 'dangerously',
    url: 'http://localhost/',
    virtualConsole: new VirtualConsole(),
  })
  dom.window.addEventListener('error', ({ error }) => {
    if (error) process.emit('uncaughtException', error)
  })
  return dom
}

/** @returns what stood in these places before */
function show(dom) {
  const { window } = dom
  const before = new Map()
  const put = (name, descriptor) => {
    before.set(name, Object.getOwnPropertyDescriptor(globalThis, name))
    Object.defineProperty(globalThis, name, { configurable: true, ...descriptor })
  }
  for (const name of namesOf(dom.getInternalVMContext()))
    if (!(name in globalThis) || OF_THE_WINDOW.has(name)) put(name, as(window, name))
  for (const name of ITSELF) put(name, { value: globalThis, writable: true })
  put('IS_REACT_ACT_ENVIRONMENT', { value: true, writable: true })
  return before
}

function namesOf(window) {
  const names = new Set()
  for (let one = window; one; one = Object.getPrototypeOf(one))
    for (const name of Object.getOwnPropertyNames(one)) names.add(name)
  for (const name of [...ITSELF, 'constructor', 'global', 'globalThis']) names.delete(name)
  return names
}

/** Functions of the window want to be called on it; whatever a test puts there instead is what it gets. */
function as(window, name) {
  let instead
  let bound
  const own = () => {
    const value = window[name]
    if (typeof value !== 'function' || /^[A-Z]/.test(name)) return value
    return (bound ??= value.bind(window))
  }
  return {
    get: () => (instead ? instead.value : own()),
    set: (value) => (instead = { value }),
  }
}

function hide(before) {
  for (const [name, descriptor] of before) {
    if (descriptor) Object.defineProperty(globalThis, name, descriptor)
    else delete globalThis[name]
  }
}

/** As a page that was just opened. Its elements stay: libraries keep them. */
function empty({ document, history, localStorage, sessionStorage }) {
  localStorage.clear()
  sessionStorage.clear()
  history.replaceState(null, '', '/')
  for (const element of [document.documentElement, document.head, document.body]) {
    for (const { name } of [...element.attributes]) element.removeAttribute(name)
    if (element !== document.documentElement) element.replaceChildren()
  }
}

module.exports = PageEnvironment
