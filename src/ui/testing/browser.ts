/** What browsers have and jsdom does not, for tests of components. Nothing is laid out: all sizes are 0. */
class Watcher {
  observe() {}
  unobserve() {}
  disconnect() {}
}

globalThis.ResizeObserver ??= Watcher
globalThis.requestIdleCallback ??= (work) => Number(setTimeout(work, 0))
globalThis.cancelIdleCallback ??= (id) => clearTimeout(id)
Element.prototype.scrollIntoView ??= () => {}
Element.prototype.hasPointerCapture ??= () => false
