/** The environment of unit tests without a page: the process itself, not a context of its own, for which
 * every module would be loaded anew with every file. */
const { ModernFakeTimers } = require('@jest/fake-timers')
const { ModuleMocker } = require('jest-mock')

/** Where Jest keeps who hears of a test. Without a context of its own, a file would add to those of the files
 * before it. */
const LISTENERS = Symbol.for('EVENT_HANDLERS')

/** One for all files of the process, as what is spied on is one for all. */
const mocker = new ModuleMocker(globalThis)
let timers

class ProcessEnvironment {
  /** Set by the last file with a page. It stays until the next file, as what was drawn may have work left. */
  static leavePage() {}

  constructor({ projectConfig }) {
    ProcessEnvironment.leavePage()
    ProcessEnvironment.leavePage = () => {}
    timers ??= new ModernFakeTimers({ config: projectConfig, global: globalThis })
    this.global = globalThis
    this.moduleMocker = mocker
    this.fakeTimers = null
    this.fakeTimersModern = timers
    this.before = {
      env: { ...process.env },
      exit: process.exit,
      folder: process.cwd(),
    }
  }

  exportConditions() {
    return ['node', 'node-addons']
  }

  getVmContext() {
    return null
  }

  async setup() {
    delete globalThis[LISTENERS]
    this.globals = Object.getOwnPropertyDescriptors(globalThis)
  }

  /** What a file changed in the process is no matter of the next one. */
  async teardown() {
    this.fakeTimersModern.dispose()
    mocker.restoreAllMocks()
    const { env, exit, folder } = this.before
    for (const name of Object.keys(process.env)) if (!(name in env)) delete process.env[name]
    Object.assign(process.env, env)
    process.exit = exit
    process.chdir(folder)
    for (const [name, before] of Object.entries(this.globals)) putBack(name, before)
  }
}

function putBack(name, before) {
  const { get, value } = Object.getOwnPropertyDescriptor(globalThis, name) ?? {}
  if (before.configurable && (get !== before.get || value !== before.value))
    Object.defineProperty(globalThis, name, before)
}

module.exports = ProcessEnvironment
