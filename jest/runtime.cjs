/** Loads the modules of unit tests: those of a page (jsdom) as Jest does, all others as Node.js does, once
 * for all files of a process. */
const hooks = require('node:async_hooks')
const { mkdirSync, readFileSync, writeFileSync } = require('node:fs')
const { register } = require('node:module')
const { join } = require('node:path')
const { fileURLToPath, pathToFileURL } = require('node:url')
const Runtime = require('jest-runtime').default
const ProcessEnvironment = require('./environment.cjs')
const { compiled } = require('./compile.cjs')

let hooksAreSet = false
let loaded = 0
let maps

class SharedRuntime extends Runtime {
  constructor(config, environment, ...others) {
    super(config, environment, ...others)
    this.config = config
    this.stores = []
    this.shared = environment instanceof ProcessEnvironment ? environment : undefined
    if (!this.shared || hooksAreSet) return
    hooksAreSet = true
    register('./hooks.mjs', pathToFileURL(__filename))
  }

  unstable_shouldLoadAsEsm(path) {
    return this.shared ? true : super.unstable_shouldLoadAsEsm(path)
  }

  /** A test file is run whenever it is asked for; what it imports stays. */
  async unstable_importModule(path, ...others) {
    if (!this.shared) return super.unstable_importModule(path, ...others)
    return import(`${pathToFileURL(path).href}?${(loaded += 1)}`)
  }

  /** A copy of its own, as it holds the tests of one file. */
  requireInternalModule(path, ...others) {
    return this.storesCounted(() => {
      if (!this.shared) return super.requireInternalModule(path, ...others)
      delete require.cache[path]
      return require(path)
    })
  }

  /** Each copy of Jest's own modules has an AsyncLocalStorage. Node.js 20 and 22 look at each of them when a
   * promise is made, until it is disabled: after a hundred files that was half of what tests took. */
  storesCounted(work) {
    const { AsyncLocalStorage } = hooks
    const { stores } = this
    hooks.AsyncLocalStorage = class extends AsyncLocalStorage {
      constructor(...given) {
        super(...given)
        stores.push(this)
      }
    }
    try {
      return work()
    } finally {
      hooks.AsyncLocalStorage = AsyncLocalStorage
    }
  }

  setGlobalsForRuntime(globals) {
    if (!this.shared) return super.setGlobalsForRuntime(globals)
    globalThis.jest ??= jestOf(this.shared)
  }

  /** Where lines of what was compiled stand in the source: made when an error tells where it comes from. */
  getSourceMaps() {
    if (!this.shared) return super.getSourceMaps()
    return (maps ??= new MapsWhenAsked(this.config.cacheDirectory))
  }

  teardown() {
    for (const store of this.stores) store.disable()
    if (!this.shared) super.teardown()
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

/** What tests ask of `jest`. */
function jestOf({ moduleMocker, fakeTimersModern }) {
  const names = ['fn', 'spyOn', 'mocked', 'restoreAllMocks']
  const timers = [
    'useFakeTimers',
    'useRealTimers',
    'advanceTimersByTime',
    'advanceTimersByTimeAsync',
    'runAllTimers',
  ]
  return Object.fromEntries([
    ...names.map((name) => [name, (...given) => moduleMocker[name](...given)]),
    ...timers.map((name) => [name, (...given) => fakeTimersModern[name](...given)]),
  ])
}

module.exports = SharedRuntime
