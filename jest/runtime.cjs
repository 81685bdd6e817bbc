/** Loads the modules of unit tests as Node.js does, once for all files of a process. */
const hooks = require('node:async_hooks')
const { mkdirSync, readFileSync, writeFileSync } = require('node:fs')
const { register } = require('node:module')
const { join } = require('node:path')
const { fileURLToPath, pathToFileURL } = require('node:url')
const Runtime = require('jest-runtime').default
const { compiled } = require('./compile.cjs')

let hooksAreSet = false
let loaded = 0
let maps
let running

class SharedRuntime extends Runtime {
  constructor(config, environment, ...others) {
    super(config, environment, ...others)
    this.config = config
    this.environment = environment
    this.stores = []
    if (hooksAreSet) return
    hooksAreSet = true
    register('./hooks.mjs', pathToFileURL(__filename))
  }

  unstable_shouldLoadAsEsm() {
    return true
  }

  /** A test file is run whenever it is asked for; what it imports stays. */
  async unstable_importModule(path) {
    return import(`${pathToFileURL(path).href}?${(loaded += 1)}`)
  }

  /** A copy of its own, as it holds the tests of one file. Each has an AsyncLocalStorage. Node.js 20 and 22
   * look at each of them when a promise is made, until it is disabled: after a hundred files that was half of
   * what tests took. */
  requireInternalModule(path) {
    const asItIs = Object.getOwnPropertyDescriptor(hooks, 'AsyncLocalStorage')
    const { AsyncLocalStorage } = hooks
    const { stores } = this
    class Counted extends AsyncLocalStorage {
      constructor(...given) {
        super(...given)
        stores.push(this)
      }
    }
    Object.defineProperty(hooks, 'AsyncLocalStorage', { configurable: true, value: Counted })
    delete require.cache[path]
    try {
      return require(path)
    } finally {
      Object.defineProperty(hooks, 'AsyncLocalStorage', asItIs)
    }
  }

  setGlobalsForRuntime() {
    running = this.environment
    globalThis.jest ??= jestOf(() => running)
  }

  /** Where lines of what was compiled stand in the source: made when an error tells where it comes from. */
  getSourceMaps() {
    return (maps ??= new MapsWhenAsked(this.config.cacheDirectory))
  }

  teardown() {
    for (const store of this.stores) store.disable()
  }
}

class MapsWhenAsked extends Map {
  constructor(folder) {
    super()
    this.folder = folder
  }

  get(source) {
    if (!this.has(source)) this.set(source, mapOf(source, this.folder))
    return super.get(source)
  }
}

function mapOf(source, folder) {
  const path = source.startsWith('file:') ? fileURLToPath(source) : source
  if (!/\.tsx?$/.test(path) || path.includes('node_modules')) return undefined
  mkdirSync(folder, { recursive: true })
  const file = join(folder, `${path.replaceAll(/[^\w.]/g, '_')}.map`)
  writeFileSync(file, compiled(readFileSync(path, 'utf8'), path).map)
  return file
}

/** What tests ask of `jest`, one for all files. Fake timers are those of the environment that runs. */
function jestOf(environment) {
  const names = ['fn', 'spyOn', 'mocked', 'restoreAllMocks']
  const timers = [
    'useFakeTimers',
    'useRealTimers',
    'advanceTimersByTime',
    'advanceTimersByTimeAsync',
    'runAllTimers',
  ]
  return Object.fromEntries([
    ...names.map((name) => [name, (...given) => environment().moduleMocker[name](...given)]),
    ...timers.map((name) => [name, (...given) => environment().fakeTimersModern[name](...given)]),
  ])
}

module.exports = SharedRuntime
